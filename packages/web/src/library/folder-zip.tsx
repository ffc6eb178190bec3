import type { AnswerOf } from '@gaveta/core/contract';
import { fileOfThing } from '@gaveta/core/internal';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Download, Upload } from 'lucide-react';
import { useRef, useState } from 'react';
import { call } from '../api/client.ts';
import type { Folder } from '../api/library.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { Button } from '../ui/controls.tsx';
import { download } from '../ui/download.ts';
import { Failure } from '../ui/failure.tsx';
import { isAtLeast } from '../ui/folder-tree.ts';

interface LibraryFile {
  path: string;
  text: string;
}
type Change = AnswerOf<'POST /folders/:id/files'>['changes'][number];

/** Bytes that a zip may hold once it is unpacked, so that a small one cannot fill the browser. */
const MOST_UNPACKED = 50_000_000;

const zipOf = async (files: readonly LibraryFile[]): Promise<Blob> => {
  const { strToU8, zip } = await import('fflate');
  const entries = Object.fromEntries(files.map(({ path, text }) => [path, strToU8(text)]));
  return new Promise((resolve, reject) =>
    zip(entries, (error, data) =>
      error ? reject(error) : resolve(new Blob([data as BlobPart], { type: 'application/zip' })),
    ),
  );
};

const filesIn = async (blob: Blob): Promise<LibraryFile[]> => {
  const { strFromU8, unzip } = await import('fflate');
  const bytes = new Uint8Array(await blob.arrayBuffer());
  let size = 0;
  return new Promise((resolve, reject) =>
    unzip(
      bytes,
      {
        filter: ({ name, originalSize }) => {
          size += originalSize;
          return size <= MOST_UNPACKED && (/(^|\/)folder\.json$/.test(name) || fileOfThing(name) !== null);
        },
      },
      (error, found) => {
        if (error) reject(error);
        else if (size > MOST_UNPACKED) reject(new Error('too-large'));
        else resolve(Object.entries(found).map(([path, data]) => ({ path, text: strFromU8(data) })));
      },
    ),
  );
};

/** Takes a folder away as a zip of its definitions, and brings one in; what it would change is shown first. */
export const FolderZip = ({ folder, name }: { folder: Folder; name: string }) => {
  const { t } = useTranslation();
  const client = useQueryClient();
  const picker = useRef<HTMLInputElement>(null);
  const [planned, setPlanned] = useState<{ files: LibraryFile[]; changes: Change[] } | null>(null);
  const [isDone, setIsDone] = useState(false);
  const params = { id: folder.id };
  const taking = useMutation({
    mutationFn: async () => {
      const { files } = await call('GET /folders/:id/files', { params });
      download(await zipOf(files), `${name}.zip`);
    },
  });
  const looking = useMutation({
    mutationFn: async (file: Blob) => {
      const files = await filesIn(file);
      const { changes } = await call('POST /folders/:id/files', { params, body: { files } });
      setIsDone(false);
      setPlanned({ files, changes });
    },
  });
  const bringing = useMutation({
    mutationFn: async (files: LibraryFile[]) => {
      const { changes } = await call('POST /folders/:id/files', { params, body: { files, apply: true } });
      setPlanned({ files, changes });
      setIsDone(true);
      for (const key of ['reports', 'recipes', 'themes']) await client.invalidateQueries({ queryKey: [key] });
    },
  });
  const error = taking.error ?? looking.error ?? bringing.error;
  const changes = (planned?.changes ?? []).filter(({ what }) => what !== 'same');
  return (
    <div className="flex flex-col gap-1.5">
      <span className="flex flex-wrap gap-1.5">
        <Button disabled={taking.isPending} onClick={() => taking.mutate()}>
          <Download size={14} aria-hidden /> {t('zip.export')}
        </Button>
        {isAtLeast(folder.may, 'change') && (
          <Button disabled={looking.isPending} onClick={() => picker.current?.click()}>
            <Upload size={14} aria-hidden /> {t('zip.import')}
          </Button>
        )}
        <input
          ref={picker}
          type="file"
          accept=".zip"
          className="sr-only"
          tabIndex={-1}
          aria-label={t('zip.import')}
          onChange={(event) => {
            const file = event.target.files?.[0];
            event.target.value = '';
            if (file) looking.mutate(file);
          }}
        />
      </span>
      {error &&
        (error.message === 'too-large' ? (
          <p className="text-rust-strong">{t('zip.tooLarge')}</p>
        ) : (
          <Failure error={error} />
        ))}
      {planned && (
        <div className="rounded-md border border-rule p-2" data-testid="zip-plan">
          <p className="mb-1 text-ink-2" role="status">
            {changes.length === 0 ? t('zip.nothing') : t(isDone ? 'zip.done' : 'zip.planned')}
          </p>
          <ul className="max-h-48 overflow-auto">
            {changes.map((change) => (
              <li key={change.path} className="py-0.5">
                <span className={change.what === 'refused' ? 'text-rust-strong' : 'text-ink-3'}>
                  {t(`zip.what_${change.what}`)}
                </span>{' '}
                {change.name}
                {change.problems.length > 0 && (
                  <span className="block text-[12px] text-rust-strong">{change.problems.join(' ')}</span>
                )}
              </li>
            ))}
          </ul>
          <span className="mt-1.5 flex gap-1.5">
            {!isDone && changes.length > 0 && (
              <Button look="primary" disabled={bringing.isPending} onClick={() => bringing.mutate(planned.files)}>
                {t('zip.apply')}
              </Button>
            )}
            <Button onClick={() => setPlanned(null)}>{t(isDone ? 'app.close' : 'app.cancel')}</Button>
          </span>
        </div>
      )}
    </div>
  );
};
