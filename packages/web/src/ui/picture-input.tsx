import type { RefObject } from 'react';
import { useTranslation } from '../i18n/use-translation.ts';
import { readPicture } from './picture-file.ts';

interface PictureInputProps {
  /** What a button opens it by. */
  input: RefObject<HTMLInputElement | null>;
  label: string;
  onPicture: (source: string, file: File) => void;
  /** Told in words what is wrong with a file; null once one can be read. */
  onProblem: (problem: string | null) => void;
}

/** Takes a picture from a file, as definitions keep it. It is not seen: a button opens it. */
export const PictureInput = ({ input, label, onPicture, onProblem }: PictureInputProps) => {
  const { t } = useTranslation();
  return (
    <input
      ref={input}
      type="file"
      accept="image/*"
      hidden
      aria-label={label}
      onChange={async (event) => {
        const [file] = event.target.files ?? [];
        // The same file again is a choice as well.
        event.target.value = '';
        if (!file) return;
        const read = await readPicture(t, file);
        onProblem('problem' in read ? read.problem : null);
        if ('source' in read) onPicture(read.source, file);
      }}
    />
  );
};
