import type { TFunction } from 'i18next';

/** Largest picture that a definition keeps, in bytes of its file. */
const MOST_BYTES = 5_500_000;
/** Longest side of a picture that is made smaller, in pixels. */
const MOST_PIXELS = 2400;

export type ReadPicture = { source: string; width: number; height: number } | { problem: string };

const asDataAddress = (file: Blob): Promise<string> =>
  new Promise((resolve, reject) => {
    const reader = new FileReader();
    reader.onload = () => resolve(String(reader.result));
    reader.onerror = () => reject(reader.error);
    reader.readAsDataURL(file);
  });

/**
 * A picture file as a definition keeps it. PNG and JPEG stay as they are; what else the browser can show becomes PNG.
 * Large ones are made smaller.
 */
export const readPicture = async (t: TFunction, file: File): Promise<ReadPicture> => {
  if (!file.type.startsWith('image/')) return { problem: t('picture.noPicture', { name: file.name }) };
  let bitmap: ImageBitmap;
  try {
    bitmap = await createImageBitmap(file);
  } catch {
    return { problem: t('picture.unreadable', { name: file.name }) };
  }
  const { width, height } = bitmap;
  const isPlain = file.type === 'image/png' || file.type === 'image/jpeg';
  if (isPlain && file.size <= MOST_BYTES) return { source: await asDataAddress(file), width, height };
  const scale = Math.min(1, MOST_PIXELS / Math.max(width, height));
  const canvas = document.createElement('canvas');
  canvas.width = Math.max(1, Math.round(width * scale));
  canvas.height = Math.max(1, Math.round(height * scale));
  canvas.getContext('2d')!.drawImage(bitmap, 0, 0, canvas.width, canvas.height);
  const source = canvas.toDataURL(file.type === 'image/jpeg' ? 'image/jpeg' : 'image/png', 0.9);
  if (source.length > MOST_BYTES * 1.37) return { problem: t('picture.tooLarge', { name: file.name }) };
  return { source, width: canvas.width, height: canvas.height };
};
