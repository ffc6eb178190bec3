import { z } from 'zod';
import { isInOrder, ORDER, pageRange } from '../pages.ts';

const imageOptions = {
  ...pageRange,
  dpi: z.coerce.number().int().min(18).max(1200).default(150).describe('pixels for each inch, 18 to 1200'),
};

export const pngOptions = z.strictObject(imageOptions).refine(isInOrder, ORDER);
export const tiffOptions = pngOptions;
export const jpegOptions = z
  .strictObject({
    ...imageOptions,
    quality: z.coerce.number().int().min(1).max(100).default(85).describe('1 to 100; higher is larger and finer'),
  })
  .refine(isInOrder, ORDER);

export type PngOptions = z.output<typeof pngOptions>;
export type JpegOptions = z.output<typeof jpegOptions>;
