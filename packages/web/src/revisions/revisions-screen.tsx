import { changesBetween, type Report } from '@gaveta/core/internal';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { ChevronDown, ChevronLeft, ChevronUp } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { useNavigate, useParams, useSearchParams } from 'react-router';
import { api } from '../api/client.ts';
import { libraryQueries } from '../api/library.ts';
import { queries } from '../api/queries.ts';
import { reportNames } from '../designer/design/words.ts';
import { tellHost } from '../embed/frame.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { Questions } from '../ui/confirm.tsx';
import { Button, IconButton, Notice } from '../ui/controls.tsx';
import { Failure } from '../ui/failure.tsx';
import { PublishBox } from '../ui/publish-box.tsx';
import { changeWords } from './change-words.ts';
import { ComparedFacts } from './compared-facts.tsx';
import { ComparedSide, Legend } from './compared-pages.tsx';
import { follow, showPlace } from './scrolling.ts';
import { useCompared, useRevisionRun } from './use-compared.ts';

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
  const reports = useQuery(queries.reports());
  const was = useRevisionRun(older.data ?? null);
  const is = useRevisionRun(newer.data ?? null);
  const compared = useCompared(was.run, is.run);
  const left = useRef<HTMLDivElement>(null);
  const right = useRef<HTMLDivElement>(null);
  const at = useRef(-1);
  const step = (by: number): void => {
    const steps = compared?.pages.steps ?? [];
    at.current = (at.current + by + steps.length) % steps.length;
    const { page, y } = steps[at.current]!;
    for (const side of [left, right]) showPlace(side.current, page, y);
  };
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
          {compared && was.run && is.run && (
            <>
              <h2 className="mt-4 mb-1 font-semibold">{t('revisions.totals')}</h2>
              <ComparedFacts
                older={was.run}
                newer={is.run}
                totals={compared.totals}
                names={reportNames(reports.data)}
              />
              <h2 className="mt-4 mb-1 font-semibold">{t('revisions.onPages')}</h2>
              <p className="mb-1 flex items-center gap-1">
                <span role="status" className="flex-1" data-testid="differences">
                  {t('revisions.places', { count: compared.pages.steps.length })}
                </span>
                {(['previous', 'next'] as const).map((way) => (
                  <IconButton
                    key={way}
                    label={t(`revisions.${way}`)}
                    disabled={compared.pages.steps.length === 0}
                    onClick={() => step(way === 'next' ? 1 : -1)}
                  >
                    {way === 'next' ? <ChevronDown size={15} /> : <ChevronUp size={15} />}
                  </IconButton>
                ))}
              </p>
              <Legend />
            </>
          )}
          <h2 className="mt-4 mb-1 font-semibold">{t('revisions.changes', pair)}</h2>
          {older.data && newer.data && <Changes older={older.data} newer={newer.data} />}
        </div>
        <ComparedSide
          run={was.run}
          places={compared?.pages.older ?? null}
          addressOf={was.addressOf}
          title={t('revisions.number', { number: pair.older })}
          side={t('revisions.older')}
          scroller={left}
          onScroll={() => follow(left, right)}
        />
        <ComparedSide
          run={is.run}
          places={compared?.pages.newer ?? null}
          addressOf={is.addressOf}
          title={t('revisions.number', { number: pair.newer })}
          side={t('revisions.newer')}
          scroller={right}
          onScroll={() => follow(right, left)}
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
    <ul data-testid="changes" className="list-disc ps-4 break-words">
      {changes.map((change) => {
        const words = changeWords(t, change, names);
        return <li key={`${change.what}${change.how}${change.id}`}>{words}</li>;
      })}
    </ul>
  );
};
