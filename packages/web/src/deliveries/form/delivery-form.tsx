import { type Delivery, deliverySchema, type Problem } from '@gaveta/core/internal';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Redo2, Undo2 } from 'lucide-react';
import { type ReactNode, useEffect, useState } from 'react';
import { useLocation, useNavigate, useParams, useSearchParams } from 'react-router';
import { deliveries, deliveryQueries, type WholeDelivery } from '../../api/deliveries.ts';
import { queries } from '../../api/queries.ts';
import { useHistory } from '../../house/use-history.ts';
import { useTranslation } from '../../i18n/use-translation.ts';
import { problemKey, problemWords } from '../../i18n/words.ts';
import { agreed } from '../../ui/confirm.tsx';
import { Button, IconButton, inputLook, Notice } from '../../ui/controls.tsx';
import { Failure } from '../../ui/failure.tsx';
import { useLater } from '../../ui/use-later.ts';
import { EachSection } from './each-section.tsx';
import { Preview } from './preview.tsx';
import { ReportSection } from './report-section.tsx';
import { TargetsSection } from './targets-section.tsx';
import { WhenSection } from './when-section.tsx';

/** Milliseconds without a change after which what it would send is asked for. */
const PAUSE = 400;

/** A report that was being read, with the values that it was read with. */
const startOf = (state: unknown): { report: string; values: Delivery['values'] } | null => {
  const { delivery } = (state ?? {}) as { delivery?: { report: string; values: Record<string, unknown> } };
  if (!delivery) return null;
  const given = Object.entries(delivery.values).filter(([, value]) => value !== null && value !== undefined);
  return { report: delivery.report, values: Object.fromEntries(given) as Delivery['values'] };
};

/** A delivery to begin with: on working days at seven, as a PDF, by mail to whoever makes it where there is a mail server. */
const blank = (
  zone: string,
  from: { report: string; values: Delivery['values'] },
  mail: { to: readonly object[]; words: string } | null,
): Delivery =>
  deliverySchema.parse({
    ...{ gavetaDelivery: 1, name: '–', report: from.report || '–', values: from.values },
    when: { kind: 'calendar', calendar: { days: { each: 'working-day' }, times: ['07:00'], zone } },
    to: [mail ? { kind: 'mail', subject: '{report}', ...mail } : { kind: 'kept' }],
  });

/** Stands in for a recipient that is not known yet. */
const NOBODY = 'nobody@gaveta.invalid';

const withoutNobody = (delivery: Delivery): Delivery => ({
  ...delivery,
  to: delivery.to.map((target) =>
    target.kind === 'mail'
      ? { ...target, to: target.to.filter((one) => !('address' in one) || one.address !== NOBODY) }
      : target,
  ),
});

/** Makes a delivery, or changes one. */
export const DeliveryForm = () => {
  const { t } = useTranslation();
  const { id = null } = useParams();
  const [params] = useSearchParams();
  const copied = params.get('copy');
  const source = useQuery({ ...deliveryQueries.one(id ?? copied ?? ''), enabled: (id ?? copied) !== null });
  const targets = useQuery(deliveryQueries.targets());
  const begun = startOf(useLocation().state);
  const session = useQuery(queries.session());
  const error = source.error ?? targets.error;
  if (error) return <Failure error={error} />;
  if (!targets.data || ((id ?? copied) !== null && !source.data)) return <Notice>{t('app.loading')}</Notice>;
  const report = params.get('report') ?? begun?.report ?? '';
  const { zone, mail, hasPeople } = targets.data;
  const own = hasPeople && session.data ? [{ user: session.data.user }] : [{ address: NOBODY }];
  const before = source.data;
  const start: Delivery = before
    ? { ...before.definition, ...(id === null ? { name: t('deliveries.copyOf', { name: before.name }) } : {}) }
    : withoutNobody(
        blank(
          zone,
          { report, values: begun?.values ?? {} },
          mail ? { to: own, words: t('deliveries.wordsExample') } : null,
        ),
      );
  const key = `${id ?? 'new'} ${copied ?? report}`;
  return <Form key={key} place={key} start={start} before={id === null ? null : (before ?? null)} />;
};

/** What was changed and not saved yet, kept while other screens are open; by the place of its form. */
const unsaved = new Map<string, Delivery>();

/** Sections in which problems are told, by what their places begin with. */
const placeOf = (problem: Problem): string => problem.place.path?.split('/')[0] ?? '';

const Form = ({ place, start: given, before }: { place: string; start: Delivery; before: WholeDelivery | null }) => {
  const { t } = useTranslation();
  const navigate = useNavigate();
  const client = useQueryClient();
  const [start] = useState(given);
  const { now: definition, set, undo, redo, canUndo, canRedo } = useHistory(unsaved.get(place) ?? start);
  const { value: later } = useLater(definition, PAUSE);
  const reports = useQuery(queries.reports());
  const report = useQuery({ ...queries.otherReport(definition.report), enabled: definition.report !== '–' });
  const hasReport = report.data !== undefined;
  const check = useQuery({ ...deliveryQueries.check(later), enabled: hasReport && later.report === definition.report });
  const isTouched = definition !== start;
  useEffect(() => {
    if (definition === start) unsaved.delete(place);
    else unsaved.set(place, definition);
  }, [definition, start, place]);
  const put = (part: Partial<Delivery>): void => set({ ...definition, ...part });
  const problems = check.data?.problems ?? [];
  const isNamed = definition.name.trim() !== '' && definition.name !== '–';
  const save = useMutation({
    mutationFn: () => {
      const whole = isNamed ? definition : { ...definition, name: report.data?.name ?? definition.name };
      return before ? deliveries.save(before.id, whole, before.revision) : deliveries.create(whole);
    },
    onSuccess: async ({ id }) => {
      unsaved.delete(place);
      await Promise.all([
        client.invalidateQueries({ queryKey: ['deliveries'] }),
        client.invalidateQueries({ queryKey: ['delivery', id] }),
      ]);
      navigate(`/deliveries/${id}`, { replace: true });
    },
  });
  useUnsaved(isTouched && !save.isSuccess);
  const leave = async (): Promise<void> => {
    if (isTouched && !(await agreed(t('deliveries.leaveHelp'), t('deliveries.discard')))) return;
    unsaved.delete(place);
    navigate(before ? `/deliveries/${before.id}` : '/deliveries');
  };
  const told = (...places: string[]): ReactNode => (
    <Problems problems={problems.filter((one) => places.includes(placeOf(one)))} />
  );
  const shared = { definition, put };
  return (
    <div className="grid h-full min-h-0 grid-cols-[minmax(0,1fr)_320px] grid-rows-1 max-lg:h-auto max-lg:grid-cols-1 max-lg:grid-rows-none">
      <form
        className="relative flex min-w-0 flex-col gap-5 overflow-auto px-4 py-3.5"
        aria-label={t(before ? 'deliveries.editTitle' : 'deliveries.newTitle')}
        onSubmit={(event) => {
          event.preventDefault();
          save.mutate();
        }}
      >
        <div className="flex flex-wrap items-center gap-2">
          <input
            className={`${inputLook} max-w-96 flex-1 text-[15px] font-semibold max-sm:basis-full`}
            aria-label={t('deliveries.name')}
            placeholder={report.data?.name ?? t('deliveries.name')}
            maxLength={200}
            value={definition.name === '–' ? '' : definition.name}
            onChange={(event) => put({ name: event.target.value })}
          />
          <IconButton label={t('designer.undo')} disabled={!canUndo} onClick={undo}>
            <Undo2 size={16} />
          </IconButton>
          <IconButton label={t('designer.redo')} disabled={!canRedo} onClick={redo}>
            <Redo2 size={16} />
          </IconButton>
          <span className="flex-1" />
          <Button onClick={() => void leave()}>{t('app.cancel')}</Button>
          <Button look="primary" type="submit" disabled={!hasReport || save.isPending}>
            {t('deliveries.save')}
          </Button>
        </div>
        {before && !before.isOwn && (
          <p className="rounded bg-brass-soft px-3 py-1.5">{t('deliveries.takesOver', { owner: before.owner })}</p>
        )}
        {save.error && <Failure error={save.error} />}
        <ReportSection
          {...shared}
          reports={reports.data ?? []}
          report={report.data ?? null}
          fields={check.data?.fields ?? []}
        >
          {told('values', 'parameters', 'files', 'fileName', 'report')}
          {check.error && <Failure error={check.error} />}
        </ReportSection>
        <EachSection {...shared} fields={check.data?.fields ?? []} parts={check.data?.parts ?? null}>
          {told('each')}
        </EachSection>
        <WhenSection {...shared}>{told('when')}</WhenSection>
        <TargetsSection {...shared} report={report.data ?? null} fields={check.data?.fields ?? []}>
          {told('to')}
        </TargetsSection>
      </form>
      <Preview
        definition={definition}
        parameters={report.data?.definition.parameters ?? []}
        check={hasReport ? (check.data ?? null) : null}
        isBusy={check.isFetching}
      />
    </div>
  );
};

/** Asks before the window is closed over what is not saved. */
const useUnsaved = (isUnsaved: boolean): void => {
  useEffect(() => {
    if (!isUnsaved) return;
    const ask = (event: BeforeUnloadEvent): void => event.preventDefault();
    window.addEventListener('beforeunload', ask);
    return () => window.removeEventListener('beforeunload', ask);
  }, [isUnsaved]);
};

const Problems = ({ problems }: { problems: readonly Problem[] }) =>
  problems.length === 0 ? null : (
    <ul role="alert" className="mt-2 rounded bg-rust-soft px-3 py-1.5 text-rust-strong">
      {problems.map((one) => (
        <li key={problemKey(one)}>{problemWords(one)}</li>
      ))}
    </ul>
  );
