import { useQuery } from '@tanstack/react-query';
import { Folder as FolderMark } from 'lucide-react';
import { api } from '../api/client.ts';
import { type Binned, library, libraryQueries } from '../api/library.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { Button, Notice } from '../ui/controls.tsx';
import { Failure } from '../ui/failure.tsx';
import type { LibraryWork } from './use-library.ts';

/** What was deleted, and can be restored. */
export const Bin = ({ work }: { work: LibraryWork }) => {
  const { t, i18n } = useTranslation();
  const { data, error, refetch } = useQuery(libraryQueries.bin());
  const when = new Intl.DateTimeFormat(i18n.language, { dateStyle: 'medium', timeStyle: 'short' });
  if (error) return <Failure error={error} retry={() => void refetch()} />;
  if (data?.length === 0) return <Notice>{t('library.binEmpty')}</Notice>;
  const restore = ({ kind, id }: Binned): Promise<unknown> =>
    kind === 'folder' ? library.restoreFolder(id) : api.restoreReport(id);
  return (
    <>
      <p className="mb-2 text-ink-3">{t('library.binHelp')}</p>
      <ul className="divide-y divide-rule-soft">
        {data?.map((one) => (
          <li key={`${one.kind} ${one.id}`} className="flex items-center gap-3 py-1.5">
            <span className="min-w-0 flex-1">
              <span className="flex items-center gap-1.5 font-semibold">
                {one.kind === 'folder' && <FolderMark size={14} aria-hidden className="flex-none text-brass" />}
                <span className="truncate">{one.name}</span>
              </span>
              <span className="text-[12px] text-ink-3">
                {t('library.deletedAt', { when: when.format(new Date(one.deletedAt)) })}
              </span>
            </span>
            <Button
              disabled={work.isBusy}
              aria-label={t('library.restoreNamed', { name: one.name })}
              onClick={() => void work.doing(() => restore(one))}
            >
              {t('library.restore')}
            </Button>
          </li>
        ))}
      </ul>
    </>
  );
};
