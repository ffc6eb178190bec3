import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Upload } from 'lucide-react';
import { useRef, useState } from 'react';
import { Link, useParams } from 'react-router';
import { library, libraryQueries } from '../api/library.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { Button, Notice } from '../ui/controls.tsx';
import { Failure } from '../ui/failure.tsx';
import { isAtLeast } from '../ui/folder-tree.ts';
import { PictureInput } from '../ui/picture-input.tsx';
import { ScreenHeader } from '../ui/screen-header.tsx';

/** A picture of the library: replaced here, it is replaced in every report that shows it. */
export const PictureScreen = () => {
  const { t } = useTranslation();
  const { id = '' } = useParams();
  const client = useQueryClient();
  const file = useRef<HTMLInputElement>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const thing = useQuery(libraryQueries.thing(id));
  const kept = useQuery(libraryQueries.definition(id));
  const users = useQuery(libraryQueries.users(id));
  const replace = useMutation({
    mutationFn: async (source: string) => {
      const { definition, revision } = kept.data!;
      if ('gavetaPicture' in definition) await library.keepAnew(id, { ...definition, source }, revision);
    },
    onSuccess: () =>
      Promise.all([
        client.invalidateQueries({ queryKey: ['reports'] }),
        client.invalidateQueries({ queryKey: ['first-page'] }),
      ]),
  });
  const error = thing.error ?? kept.error;
  if (error) return <Failure error={error} retry={() => void kept.refetch()} />;
  if (!thing.data || !kept.data) return <Notice>{t('app.loading')}</Notice>;
  const { definition } = kept.data;
  if (!('gavetaPicture' in definition)) return <Notice>{t('house.noPicture')}</Notice>;
  const { name, may, note } = thing.data;
  const usedBy = users.data ?? [];
  return (
    <div className="grid h-full grid-rows-[44px_1fr]">
      <ScreenHeader title={name}>
        <span className="flex-1" />
        {isAtLeast(may, 'change') && (
          <Button look="primary" disabled={replace.isPending} onClick={() => file.current?.click()}>
            <Upload size={14} aria-hidden /> {t('picture.replace')}
          </Button>
        )}
        <PictureInput
          input={file}
          label={t('picture.replace')}
          onPicture={(source) => replace.mutate(source)}
          onProblem={setProblem}
        />
      </ScreenHeader>
      <main className="grid min-h-0 grid-cols-[minmax(0,1fr)_280px] max-sm:grid-cols-1 max-sm:overflow-auto">
        <div className="grid min-h-60 place-items-center overflow-auto bg-desk/60 p-8">
          <img src={definition.source} alt={name} className="max-h-full max-w-full bg-white shadow" />
        </div>
        <aside className="min-h-0 overflow-auto border-s border-rule p-4">
          {problem && (
            <p role="alert" className="mb-3 rounded bg-rust-soft px-3 py-1.5 text-rust-strong">
              {problem}
            </p>
          )}
          {replace.error && <Failure error={replace.error} />}
          {note !== '' && <p className="mb-3 text-ink-2">{note}</p>}
          <h2 className="mb-1 font-semibold">{t('library.factUsed')}</h2>
          {usedBy.length === 0 ? (
            <p className="text-ink-2">{t('house.usedNowhere')}</p>
          ) : (
            <ul>
              {usedBy.map((user) => (
                <li key={user.id}>
                  <Link
                    to={user.kind === 'theme' ? `/house/themes/${user.id}` : `/reports/${user.id}`}
                    className="hover:text-pine"
                  >
                    {user.name}
                  </Link>
                </li>
              ))}
            </ul>
          )}
          <p className="mt-3 text-[12px] text-ink-3">{t('house.replaceHelp')}</p>
        </aside>
      </main>
    </div>
  );
};
