import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { ChevronDown, ChevronRight } from 'lucide-react';
import { useState } from 'react';
import { Link } from 'react-router';
import { type DeliveryRun, type DeliveryRunParts, deliveries, deliveryQueries } from '../api/deliveries.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { problemWords } from '../i18n/words.ts';
import { Button, Notice } from '../ui/controls.tsx';
import { Failure } from '../ui/failure.tsx';
import { FileLink } from './file-link.tsx';
import { Outcome, RunOutcome } from './marks.tsx';

/** What became of a delivery each time that it went, the last time open. */
export const History = ({ delivery }: { delivery: string }) => {
  const { t } = useTranslation();
  const runs = useQuery(deliveryQueries.runs(delivery));
  const [chosen, setChosen] = useState<string | null>(null);
  const all = runs.data ?? [];
  // The last one is open until another one is chosen.
  const open = chosen ?? all[0]?.id ?? '';
  return (
    <section aria-label={t('deliveries.history')} className="min-w-0">
      <h3 className="mb-1 font-semibold">{t('deliveries.history')}</h3>
      {runs.error && <Failure error={runs.error} retry={() => void runs.refetch()} />}
      {runs.data && all.length === 0 && <p className="text-ink-2">{t('deliveries.noHistory')}</p>}
      <ul className="border-t border-rule">
        {all.map((run) => (
          <li key={run.id} className="border-b border-rule-soft" data-run={run.id}>
            <RunLine run={run} isOpen={open === run.id} onToggle={() => setChosen(open === run.id ? 'none' : run.id)} />
            {open === run.id && <RunParts run={run} delivery={delivery} />}
          </li>
        ))}
      </ul>
    </section>
  );
};

const RunLine = ({ run, isOpen, onToggle }: { run: DeliveryRun; isOpen: boolean; onToggle: () => void }) => {
  const { t, i18n } = useTranslation();
  const moment = new Intl.DateTimeFormat(i18n.language, { dateStyle: 'medium', timeStyle: 'short' });
  return (
    <button
      type="button"
      aria-expanded={isOpen}
      className="flex w-full flex-wrap items-center gap-x-3 gap-y-0.5 px-1 py-1.5 text-start hover:bg-desk/30"
      onClick={onToggle}
    >
      {isOpen ? <ChevronDown size={14} aria-hidden /> : <ChevronRight size={14} aria-hidden />}
      <span className="tabular-nums">{moment.format(new Date(run.dueAt))}</span>
      <span className="text-ink-3">{t(`deliveries.why_${run.why}`)}</span>
      <span className="flex-1" />
      <RunOutcome run={run} />
    </button>
  );
};

/** Parts that are shown at once. */
const SHOWN = 50;

const RunParts = ({ run, delivery }: { run: DeliveryRun; delivery: string }) => {
  const { t } = useTranslation();
  const client = useQueryClient();
  const [from, setFrom] = useState(0);
  const found = useQuery(deliveryQueries.run(run.id, from));
  const refresh = (): Promise<unknown> =>
    Promise.all([
      client.invalidateQueries({ queryKey: ['delivery-run', run.id] }),
      client.invalidateQueries({ queryKey: ['delivery-runs', delivery] }),
      client.invalidateQueries({ queryKey: ['delivery', delivery] }),
    ]);
  const again = useMutation({ mutationFn: () => deliveries.again(run.id), onSuccess: refresh });
  const cancel = useMutation({ mutationFn: () => deliveries.cancel(run.id), onSuccess: refresh });
  if (found.error) return <Failure error={found.error} retry={() => void found.refetch()} />;
  if (!found.data) return <Notice>{t('app.loading')}</Notice>;
  const { contents, of, state, said } = found.data;
  const isOpen = state === 'waiting' || state === 'working';
  const mayTryAgain = state === 'failed' || state === 'partly';
  return (
    <div className="px-6 pb-3">
      {said && <p className="mb-2 text-rust-strong">{problemWords(said)}</p>}
      {(mayTryAgain || isOpen) && (
        <div className="mb-2 flex gap-2">
          {mayTryAgain && (
            <Button disabled={again.isPending} onClick={() => again.mutate()}>
              {t('deliveries.again')}
            </Button>
          )}
          {isOpen && (
            <Button disabled={cancel.isPending} onClick={() => cancel.mutate()}>
              {t('deliveries.cancelRun')}
            </Button>
          )}
        </div>
      )}
      {again.error && <Failure error={again.error} />}
      {cancel.error && <Failure error={cancel.error} />}
      <ul>
        {contents.map((content) => (
          <ContentLine key={content.place} run={run.id} content={content} />
        ))}
      </ul>
      {of > SHOWN && (
        <div className="mt-2 flex items-center gap-2">
          <Button disabled={from === 0} onClick={() => setFrom(Math.max(0, from - SHOWN))}>
            {t('deliveries.partsBefore')}
          </Button>
          <span className="text-ink-3">
            {t('deliveries.partsShown', { from: from + 1, to: Math.min(of, from + SHOWN), count: of })}
          </span>
          <Button disabled={from + SHOWN >= of} onClick={() => setFrom(from + SHOWN)}>
            {t('deliveries.partsAfter')}
          </Button>
        </div>
      )}
    </div>
  );
};

type Content = DeliveryRunParts['contents'][number];

const ContentLine = ({ run, content }: { run: string; content: Content }) => {
  const { t } = useTranslation();
  const { label, place, state, said, pages, rows, files, parts } = content;
  return (
    <li className="mb-2">
      <div className="flex flex-wrap items-center gap-x-3">
        {label !== '' && <b>{label}</b>}
        {(state === 'waiting' || state === 'working' || state === 'nothing') && (
          <Outcome state={state} words={state === 'nothing' ? t('deliveries.noRows') : t('deliveries.making')} />
        )}
        {pages !== null && state === 'done' && (
          <span className="text-ink-3">
            {t('deliveries.size', {
              pages: t('deliveries.pages', { count: pages }),
              rows: t('deliveries.rows', { count: rows ?? 0 }),
            })}
          </span>
        )}
        {files.map((file) => (
          <FileLink
            key={file.place}
            {...file}
            place={{
              call: 'GET /delivery-runs/:id/files/:content/:place',
              params: { id: run, content: String(place), place: String(file.place) },
            }}
          />
        ))}
      </div>
      {said && state === 'failed' && <p className="text-rust-strong">{problemWords(said)}</p>}
      <ul className="ms-3">
        {parts.map((part) => (
          <PartLine key={part.id} part={part} isToldAbove={said !== null && state === 'failed'} />
        ))}
      </ul>
    </li>
  );
};

const PartLine = ({ part, isToldAbove }: { part: Content['parts'][number]; isToldAbove: boolean }) => {
  const { t, i18n } = useTranslation();
  const { kind, to, state, said, receipt, nextTry, tries } = part;
  const time = new Intl.DateTimeFormat(i18n.language, { dateStyle: 'short', timeStyle: 'medium' });
  const where = kind === 'kept' ? t('deliveries.tab_kept') : to;
  return (
    <li className="flex flex-wrap items-center gap-x-3" data-part={state}>
      <Outcome state={state} />
      <span className="break-all">
        {kind === 'kept' && state === 'done' && receipt ? (
          <Link to={`/kept/${receipt}`} className="text-pine hover:underline">
            {where}
          </Link>
        ) : (
          where
        )}
      </span>
      {state === 'waiting' && nextTry !== null && tries > 0 && (
        <span className="text-ink-3">{t('deliveries.nextTry', { time: time.format(new Date(nextTry)) })}</span>
      )}
      {said && !isToldAbove && <span className="text-rust-strong">{problemWords(said)}</span>}
      {state === 'done' && kind !== 'kept' && receipt && (
        <span className="truncate text-[12px] text-ink-3">{receipt}</span>
      )}
    </li>
  );
};
