import { changesBetween, marksToSvg, type Report } from '@gaveta/core/internal';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { ChevronLeft } from 'lucide-react';
import { useEffect, useState } from 'react';
import { useNavigate, useParams, useSearchParams } from 'react-router';
import { useStore } from 'zustand';
import { api } from '../api/client.ts';
import { libraryQueries } from '../api/library.ts';
import { queries } from '../api/queries.ts';
import { reportNames } from '../designer/design/words.ts';
import { tellHost } from '../embed/frame.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { useLive } from '../live/use-live.ts';
import { Questions } from '../ui/confirm.tsx';
import { Button, Notice } from '../ui/controls.tsx';
import { Failure } from '../ui/failure.tsx';
import { PublishBox } from '../ui/publish-box.tsx';
import { changeWords } from './change-words.ts';

/** What was saved of a report, by whom and when; two revisions side by side, as pages and in words. */
export const RevisionsScreen = () => {
  const { t, i18n } = useTranslation();
  const { id = '' } = useParams();
  const navigate = useNavigate();
  const client = useQueryClient();
  const revisions = useQuery(queries.revisions(id));
  const [params] = useSearchParams();
  const thing = useQuery(libraryQueries.thing(id));
  const [chosen, setChosen] = useState<{ older: number; newer: number } | null>(null);
  const list = revisions.data ?? [];
  const newest = list[0]?.number ?? 0;
  // What readers see, where one comes to compare with that.
  const asked = Number(params.get('older')) || newest - 1;
  const pair = chosen ?? { older: Math.min(Math.max(1, asked), Math.max(1, newest)), newer: newest };
  const published = thing.data?.published ?? null;
  const older = useRevision(id, pair.older);
  const newer = useRevision(id, pair.newer);
  const when = new Intl.DateTimeFormat(i18n.language, { dateStyle: 'medium', timeStyle: 'short' });
  useEffect(() => tellHost({ kind: 'opened', report: id, screen: 'revisions' }), [id]);
  const back = (): void => void navigate('../design', { relative: 'path' });
  const restore = useMutation({
    mutationFn: async (number: number) =>
      api.save(id, await api.revision(id, number), newest, t('revisions.restored', { number })),
    onSuccess: () => {
      void client.invalidateQueries(queries.revisions(id));
      void client.invalidateQueries(queries.reports());
      setChosen(null);
    },
  });
  if (revisions.error) return <Failure error={revisions.error} retry={() => void revisions.refetch()} />;
  return (
    <div className="grid h-full grid-rows-[44px_1fr]">
      <header className="flex items-center gap-2 border-b border-rule px-3.5">
        <button type="button" className="flex items-center text-ink-2 hover:text-pine" onClick={back}>
          <ChevronLeft size={15} aria-hidden /> {t('revisions.back')}
        </button>
        <h1 className="truncate text-[14px] font-semibold">
          {t('revisions.title', { name: newer.data?.name ?? older.data?.name ?? '' })}
        </h1>
      </header>
      <main className="grid min-h-0 grid-cols-[300px_minmax(0,1fr)_minmax(0,1fr)]">
        <div className="min-h-0 overflow-auto border-e border-rule p-3">
          {thing.data && pair.newer > 0 && (
            <section className="mb-3 rounded-md border border-rule p-2.5">
              <h2 className="mb-1 font-semibold">{t('publish.title')}</h2>
              <PublishBox thing={thing.data} revision={pair.newer} />
            </section>
          )}
          <h2 className="mb-1 font-semibold">{t('revisions.saved')}</h2>
          <ul>
            {list.map((revision) => (
              <li key={revision.number} className="border-t border-rule-soft py-1.5">
                <span className="flex items-center gap-2">
                  <b className="font-semibold">{revision.number}</b>
                  <span className="truncate">{revision.author}</span>
                  {revision.number === published && (
                    <span className="flex-none rounded-full bg-brass-soft px-1.5 text-[11px] text-ink-2">
                      {t('library.state_published')}
                    </span>
                  )}
                  <span className="ms-auto text-[11.5px] text-ink-3">{when.format(new Date(revision.savedAt))}</span>
                </span>
                {revision.note && <span className="block text-ink-2">{revision.note}</span>}
                <span className="mt-0.5 flex gap-3">
                  {(['older', 'newer'] as const).map((side) => (
                    <label key={side} className="flex items-center gap-1 text-[12px]">
                      <input
                        type="radio"
                        name={side}
                        checked={pair[side] === revision.number}
                        aria-label={t(`revisions.${side}Of`, { number: revision.number })}
                        onChange={() => setChosen({ ...pair, [side]: revision.number })}
                      />
                      {t(`revisions.${side}`)}
                    </label>
                  ))}
                  {revision.number !== newest && (
                    <button
                      type="button"
                      className="ms-auto rounded px-1 text-pine hover:bg-pine-soft"
                      disabled={restore.isPending}
                      aria-label={t('revisions.restoreNumber', { number: revision.number })}
                      onClick={() => restore.mutate(revision.number)}
                    >
                      {t('revisions.restore')}
                    </button>
                  )}
                </span>
              </li>
            ))}
          </ul>
          {restore.error && <Failure error={restore.error} />}
          <h2 className="mt-4 mb-1 font-semibold">{t('revisions.changes', pair)}</h2>
          {older.data && newer.data && <Changes older={older.data} newer={newer.data} />}
        </div>
        <Pages
          report={older.data ?? null}
          title={t('revisions.number', { number: pair.older })}
          side={t('revisions.older')}
        />
        <Pages
          report={newer.data ?? null}
          title={t('revisions.number', { number: pair.newer })}
          side={t('revisions.newer')}
        />
      </main>
      <Questions />
      {list.length === 0 && !revisions.isPending && (
        <Notice action={<Button onClick={back}>{t('revisions.back')}</Button>}>{t('revisions.none')}</Notice>
      )}
    </div>
  );
};

const useRevision = (id: string, number: number) => useQuery(queries.revision(id, number));

const Changes = ({ older, newer }: { older: Report; newer: Report }) => {
  const { t } = useTranslation();
  const reports = useQuery(queries.reports());
  const names = reportNames(reports.data);
  const changes = changesBetween(older, newer);
  if (changes.length === 0) return <p className="text-ink-3">{t('revisions.same')}</p>;
  return (
    <ul data-testid="changes" className="list-disc ps-4">
      {changes.map((change) => {
        const words = changeWords(t, change, names);
        return <li key={`${change.what}${change.how}${change.id}`}>{words}</li>;
      })}
    </ul>
  );
};

/** The first pages of a revision, from the rows as they are now. */
const Pages = ({ report, title, side }: { report: Report | null; title: string; side: string }) => {
  const { t } = useTranslation();
  const view = useStore(useLive(report, true).view);
  return (
    <section aria-label={`${title}, ${side}`} className="flex min-h-0 flex-col border-s border-rule bg-desk/60">
      <h2 className="flex h-8 flex-none items-center gap-2 border-b border-rule bg-sheet px-3 text-[12px] font-semibold">
        {title}{' '}
        {view.count !== null && (
          <span className="font-normal text-ink-3">{t('designer.livePages', { count: view.count })}</span>
        )}
      </h2>
      {view.waiting && <p className="px-3 py-1.5 text-ink-2">{t('designer.liveWait')}</p>}
      {view.failure && <p className="bg-rust-soft px-3 py-1.5 text-rust-strong">{view.failure}</p>}
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls, also by keys */}
      <div tabIndex={0} className="min-h-0 flex-1 overflow-auto p-3.5">
        {view.pages.slice(0, 5).map((page, i) => (
          <div
            // biome-ignore lint/suspicious/noArrayIndexKey: a page is its number
            key={i}
            className="mb-3.5 bg-white shadow [&_svg]:block [&_svg]:h-auto [&_svg]:w-full"
            // The text of every mark is escaped by pageToMarks.
            // biome-ignore lint/security/noDangerouslySetInnerHtml: see above
            dangerouslySetInnerHTML={{ __html: marksToSvg(page) }}
          />
        ))}
      </div>
    </section>
  );
};
