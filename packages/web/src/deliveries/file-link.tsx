import type { CallName } from '@gaveta/core/contract';
import { Paperclip } from 'lucide-react';
import { useState } from 'react';
import { request } from '../api/client.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { useFailureText } from '../ui/failure.tsx';

/** Where a file comes from. */
export type FilePlace =
  | { call: 'GET /delivery-runs/:id/files/:content/:place'; params: { id: string; content: string; place: string } }
  | { call: 'GET /kept/:id/files/:place'; params: { id: string; place: string } }
  | { call: 'GET /outbox/:id/attachments/:place'; params: { id: string; place: string } }
  | { call: 'GET /printer-tray/:id/document'; params: { id: string } };

/** What browsers show in a tab of its own. */
const SHOWN = ['application/pdf', 'image/png', 'image/jpeg'];

const fetched = (place: FilePlace): Promise<Response> => {
  const ask = request as (name: CallName, given: object) => Promise<Response>;
  return ask(place.call, { params: place.params });
};

/** Milliseconds after which the address of a file that was opened is let go of. */
const KEPT = 60_000;

const sizeWords = (size: number, language: string): string => {
  const [unit, by] = size < 1_000_000 ? (['kilobyte', 1000] as const) : (['megabyte', 1_000_000] as const);
  return new Intl.NumberFormat(language, { style: 'unit', unit, maximumFractionDigits: size < 10_000 ? 1 : 0 }).format(
    size / by,
  );
};

/** A file that is opened or saved when it is pressed. */
export const FileLink = ({
  place,
  name,
  mime,
  size,
}: {
  place: FilePlace;
  name: string;
  mime: string;
  size: number;
}) => {
  const { i18n } = useTranslation();
  const textOf = useFailureText();
  const [error, setError] = useState<unknown>(null);
  const open = async (): Promise<void> => {
    setError(null);
    // Opened at once, since a browser lets nothing open later.
    const tab = SHOWN.includes(mime) ? window.open('', '_blank') : null;
    try {
      const address = URL.createObjectURL(new Blob([await (await fetched(place)).arrayBuffer()], { type: mime }));
      if (tab) tab.location.href = address;
      else {
        const link = document.createElement('a');
        link.href = address;
        link.download = name;
        link.click();
      }
      setTimeout(() => URL.revokeObjectURL(address), KEPT);
    } catch (failed) {
      tab?.close();
      setError(failed);
    }
  };
  return (
    <>
      <button
        type="button"
        className="inline-flex max-w-full items-center gap-1 text-pine hover:underline"
        onClick={() => void open()}
      >
        <Paperclip size={13} aria-hidden className="flex-none" />
        <span className="truncate">{name}</span>
        <span className="flex-none text-ink-3">{sizeWords(size, i18n.language)}</span>
      </button>
      {error !== null && (
        <span role="alert" className="text-rust">
          {textOf(error).detail}
        </span>
      )}
    </>
  );
};
