import { nextTimes } from '@gaveta/core/internal';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Pause, Pencil, Play, Send } from 'lucide-react';
import type { ReactNode } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { deliveries, deliveryQueries, type WholeDelivery } from '../api/deliveries.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { problemWords } from '../i18n/words.ts';
import { agreed } from '../ui/confirm.tsx';
import { Button, Notice } from '../ui/controls.tsx';
import { Failure } from '../ui/failure.tsx';
import { MenuLine } from '../ui/menu-line.tsx';
import { SmallMenu } from '../ui/small-menu.tsx';
import { History } from './history.tsx';
import { StateMark } from './marks.tsx';
import { targetWords } from './target-words.ts';
import { whenWords } from './when-words.ts';

/** Times that are shown ahead. */
const SHOWN = 10;

/** One delivery: when it goes next, to whom and as whom, and what became of it each time. */
export const DeliveryScreen = () => {
  const { t } = useTranslation();
  const { id = '' } = useParams();
  const navigate = useNavigate();
  const client = useQueryClient();
  const found = useQuery(deliveryQueries.one(id));
  const refresh = (): Promise<unknown> =>
    Promise.all([
      client.invalidateQueries({ queryKey: ['delivery', id] }),
      client.invalidateQueries({ queryKey: ['deliveries'] }),
      client.invalidateQueries({ queryKey: ['delivery-runs', id] }),
    ]);
  const run = useMutation({ mutationFn: () => deliveries.run(id), onSuccess: refresh });
  const setState = useMutation({
    mutationFn: (state: 'on' | 'paused') => deliveries.setState(id, state),
    onSuccess: refresh,
  });
  const remove = useMutation({
    mutationFn: () => deliveries.remove(id),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: ['deliveries'] });
      navigate('/deliveries');
    },
  });
  if (found.error) return <Failure error={found.error} retry={() => void found.refetch()} />;
  if (!found.data) return <Notice>{t('app.loading')}</Notice>;
  const delivery = found.data;
  const { name, state, said } = delivery;
  const askRemove = async (): Promise<void> => {
    if (await agreed(t('deliveries.removeHelp', { name }), t('deliveries.remove'))) remove.mutate();
  };
  return (
    <div className="flex flex-col gap-4 px-4 py-3.5">
      <div className="flex flex-wrap items-center gap-2">
        <h2 className="min-w-0 text-[16px] font-semibold break-words">{name}</h2>
        <StateMark state={state} />
        <span className="flex-1" />
        <Button look="primary" disabled={run.isPending} onClick={() => run.mutate()}>
          <Send size={14} aria-hidden /> {t('deliveries.runNow')}
        </Button>
        <Button disabled={setState.isPending} onClick={() => setState.mutate(state === 'on' ? 'paused' : 'on')}>
          {state === 'on' ? <Pause size={14} aria-hidden /> : <Play size={14} aria-hidden />}
          {t(state === 'on' ? 'deliveries.pause' : 'deliveries.goOn')}
        </Button>
        <Button onClick={() => navigate(`/deliveries/${id}/edit`)}>
          <Pencil size={14} aria-hidden /> {t('deliveries.edit')}
        </Button>
        <SmallMenu label={t('deliveries.more')}>
          <MenuLine onSelect={() => navigate(`/deliveries/new?copy=${encodeURIComponent(id)}`)}>
            {t('deliveries.copy')}
          </MenuLine>
          <MenuLine onSelect={() => void askRemove()}>{t('deliveries.remove')}</MenuLine>
        </SmallMenu>
      </div>
      {state === 'stopped' && said && (
        <p role="alert" className="rounded bg-rust-soft px-3 py-1.5 text-rust-strong">
          {t('deliveries.stoppedSince')} {problemWords(said)}
        </p>
      )}
      {[run, setState, remove].map(({ error }, i) =>
        // biome-ignore lint/suspicious/noArrayIndexKey: they stay in their places
        error ? <Failure key={i} error={error} /> : null,
      )}
      <div className="grid grid-cols-[300px_minmax(0,1fr)] gap-6 max-md:grid-cols-1">
        <Facts delivery={delivery} />
        <History delivery={id} />
      </div>
    </div>
  );
};

const Fact = ({ label, children }: { label: string; children: ReactNode }) => (
  <div className="mb-3">
    <dt className="text-[11.5px] text-ink-3">{label}</dt>
    <dd className="break-words">{children}</dd>
  </div>
);

const Facts = ({ delivery }: { delivery: WholeDelivery }) => {
  const { t, i18n } = useTranslation();
  const { definition, report, reportName, runsAs, state } = delivery;
  const { when, to, each, files } = definition;
  const targets = useQuery(deliveryQueries.targets());
  const next = state === 'on' ? nextTimes(when, Date.now(), SHOWN, targets.data?.daysOff) : [];
  const claims = Object.entries(runsAs.claims).map(([name, value]) => `${name}: ${String(value)}`);
  return (
    <dl>
      <Fact label={t('deliveries.report')}>
        {reportName === null ? (
          t('deliveries.reportGone')
        ) : (
          <Link to={`/reports/${encodeURIComponent(report)}`} className="hover:text-pine">
            {reportName}
          </Link>
        )}
        {files.length > 0 && (
          <span className="text-ink-3"> · {files.map(({ output }) => output.toUpperCase()).join(', ')}</span>
        )}
      </Fact>
      {each && <Fact label={t('deliveries.each')}>{t(`deliveries.eachRow_${each.rowsOf}`)}</Fact>}
      <Fact label={t('deliveries.to')}>
        <ul>
          {to.map((target, i) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: targets are told apart by their place
            <li key={i}>{targetWords(target, t, i18n.language)}</li>
          ))}
        </ul>
      </Fact>
      <Fact label={t('deliveries.when')}>{whenWords(when, t, i18n.language)}</Fact>
      {next.length > 0 && (
        <Fact label={t('deliveries.nextTimes')}>
          <NextTimes times={next} zone={zoneOf(when)} />
        </Fact>
      )}
      <Fact label={t('deliveries.runsAs')}>
        {runsAs.user}
        {runsAs.groups.length > 0 && (
          <span className="block text-ink-2">{t('deliveries.groups', { groups: runsAs.groups.join(', ') })}</span>
        )}
        {claims.length > 0 && <span className="block text-ink-2">{claims.join(', ')}</span>}
        <span className="block text-[12px] text-ink-3">{t('deliveries.runsAsHelp')}</span>
      </Fact>
    </dl>
  );
};

/** The zone whose clocks a delivery goes by; undefined where it goes by none. */
export const zoneOf = (when: WholeDelivery['definition']['when']): string | undefined =>
  when.kind === 'once' ? when.zone : when.kind === 'calendar' ? when.calendar.zone : undefined;

/** The next times at which a delivery goes, by the clocks of its zone. */
export const NextTimes = ({ times, zone }: { times: readonly number[]; zone: string | undefined }) => {
  const { i18n } = useTranslation();
  const moment = new Intl.DateTimeFormat(i18n.language, {
    ...{ weekday: 'short', day: 'numeric', month: 'short', year: 'numeric', hour: 'numeric', minute: '2-digit' },
    timeZone: zone,
  });
  return (
    <ol className="tabular-nums" data-testid="next-times">
      {times.map((time) => (
        <li key={time}>{moment.format(time)}</li>
      ))}
    </ol>
  );
};
