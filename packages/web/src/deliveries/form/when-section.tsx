import { type Calendar, type CalendarDays, MISSED, type When, type WhenKind } from '@gaveta/core/internal';
import { useQuery } from '@tanstack/react-query';
import { Plus, X } from 'lucide-react';
import { useState } from 'react';
import { deliveryQueries } from '../../api/deliveries.ts';
import { useTranslation } from '../../i18n/use-translation.ts';
import { Button, IconButton, inputLook } from '../../ui/controls.tsx';
import { Select } from '../../ui/select.tsx';
import { monthNames, ordinalKey, weekdayNames } from '../when-words.ts';
import { RowsBox } from './rows-box.tsx';
import { Row, Section, type SectionProps } from './section.tsx';

const KINDS = ['calendar', 'once', 'event', 'rows', 'by-hand'] as const satisfies readonly WhenKind[];

/** When it goes: by the calendar, once, on an event, when rows appear, or by hand alone. */
export const WhenSection = ({ definition, put, children }: SectionProps) => {
  const { t } = useTranslation();
  const targets = useQuery(deliveryQueries.targets());
  const { when } = definition;
  const zone = targets.data?.zone ?? 'UTC';
  const set = (next: When): void => put({ when: next });
  const begin = (kind: WhenKind): When => {
    switch (kind) {
      case 'by-hand':
        return { kind };
      case 'once':
        return { kind, day: new Date(Date.now() + 86_400_000).toISOString().slice(0, 10), time: '07:00', zone };
      case 'calendar':
        return {
          kind,
          calendar: { days: { each: 'working-day' }, times: ['07:00'], zone, leftOut: [], missed: 'once' },
        };
      case 'event':
        return { kind, name: t('deliveries.eventExample') };
      case 'rows':
        return { kind, steps: [], again: 'first', minutes: 15 };
      default:
        return kind satisfies never;
    }
  };
  return (
    <Section title={t('deliveries.when')}>
      <Row label={t('deliveries.goes')}>
        <Select
          label={t('deliveries.goes')}
          className="w-64!"
          value={when.kind}
          choices={KINDS.map((kind) => ({ value: kind as WhenKind, label: t(`deliveries.kind_${kind}`) }))}
          onPick={(kind) => set(begin(kind))}
        />
      </Row>
      {when.kind === 'calendar' && (
        <CalendarRows calendar={when.calendar} onChange={(calendar) => set({ ...when, calendar })} />
      )}
      {when.kind === 'once' && (
        <Row label={t('deliveries.on')}>
          <input
            type="date"
            className={`${inputLook} w-40!`}
            aria-label={t('deliveries.day')}
            value={when.day}
            onChange={(event) => event.target.value !== '' && set({ ...when, day: event.target.value })}
          />
          {t('deliveries.at')}
          <TimeBox label={t('deliveries.time')} value={when.time} onChange={(time) => set({ ...when, time })} />
          <ZoneSelect zone={when.zone} onPick={(next) => set({ ...when, zone: next })} />
        </Row>
      )}
      {when.kind === 'event' && (
        <Row label={t('deliveries.eventName')}>
          <input
            className={`${inputLook} max-w-72`}
            aria-label={t('deliveries.eventName')}
            maxLength={120}
            value={when.name}
            onChange={(event) => set({ ...when, name: event.target.value })}
          />
          <span className="text-ink-3">{t('deliveries.eventHelp')}</span>
        </Row>
      )}
      {when.kind === 'rows' && (
        <>
          <RowsBox label={t('deliveries.waitsFor')} steps={when.steps} onChange={(steps) => set({ ...when, steps })} />
          <Row label={t('deliveries.then')}>
            <Select
              label={t('deliveries.then')}
              className="w-72!"
              value={when.again}
              choices={(['first', 'each'] as const).map((value) => ({ value, label: t(`deliveries.again_${value}`) }))}
              onPick={(again) => set({ ...when, again })}
            />
            <Select
              label={t('deliveries.minutes')}
              className="w-44!"
              value={String(when.minutes)}
              choices={['1', '5', '15', '60', '1440'].map((value) => ({
                value,
                label: t('deliveries.everyMinutes', { count: Number(value) }),
              }))}
              onPick={(minutes) => set({ ...when, minutes: Number(minutes) })}
            />
          </Row>
        </>
      )}
      {children}
    </Section>
  );
};

const TimeBox = ({ label, value, onChange }: { label: string; value: string; onChange: (time: string) => void }) => (
  <input
    type="time"
    className={`${inputLook} w-28!`}
    aria-label={label}
    value={value}
    onChange={(event) => event.target.value !== '' && onChange(event.target.value.slice(0, 5))}
  />
);

const ZoneSelect = ({ zone, onPick }: { zone: string; onPick: (zone: string) => void }) => {
  const { t } = useTranslation();
  const known = Intl.supportedValuesOf('timeZone');
  const zones = known.includes(zone) ? known : [zone, ...known];
  return (
    <label className="inline-flex items-center gap-1.5 text-ink-2">
      {t('deliveries.zone')}
      <select
        className={`${inputLook} w-52!`}
        value={zone}
        onChange={(event) => onPick(event.target.value)}
        aria-label={t('deliveries.zone')}
      >
        {zones.map((one) => (
          <option key={one} value={one}>
            {one.replaceAll('_', ' ')}
          </option>
        ))}
      </select>
    </label>
  );
};

type DaysKind = 'day' | 'working-day' | 'week' | 'date' | 'nth' | 'end';
const DAYS_KINDS: readonly DaysKind[] = ['day', 'working-day', 'week', 'date', 'nth', 'end'];

const kindOf = (days: CalendarDays): DaysKind => {
  if (days.each !== 'month') return days.each;
  return 'day' in days.on ? 'date' : 'nth' in days.on ? 'nth' : 'end';
};

const beginDays = (kind: DaysKind): CalendarDays => {
  switch (kind) {
    case 'day':
      return { each: 'day', every: 1 };
    case 'working-day':
      return { each: 'working-day' };
    case 'week':
      return { each: 'week', every: 1, on: [1] };
    case 'date':
      return { each: 'month', on: { day: 1, short: 'last' } };
    case 'nth':
      return { each: 'month', on: { nth: 1, weekday: 1 } };
    case 'end':
      return { each: 'month', on: { end: 'last', of: 'working-day' } };
    default:
      return kind satisfies never;
  }
};

const CalendarRows = ({ calendar, onChange }: { calendar: Calendar; onChange: (calendar: Calendar) => void }) => {
  const { t } = useTranslation();
  const { days, times, zone, from, until, leftOut, missed } = calendar;
  // Open from the start where something is said there.
  const [isLimited] = useState(leftOut.length > 0 || from !== undefined || until !== undefined || missed !== 'once');
  const change = (part: Partial<Calendar>): void => onChange({ ...calendar, ...part });
  const setEnd = (end: 'from' | 'until', day: string): void => {
    const { [end]: _, ...others } = calendar;
    onChange(day === '' ? (others as Calendar) : { ...others, [end]: day });
  };
  return (
    <>
      <Row label={t('deliveries.on')}>
        <Select
          label={t('deliveries.days')}
          className="w-56!"
          value={kindOf(days)}
          choices={DAYS_KINDS.map((kind) => ({ value: kind, label: t(`deliveries.daysKind_${kind}`) }))}
          onPick={(kind) => change({ days: beginDays(kind) })}
        />
        <DaysBoxes days={days} onChange={(next) => change({ days: next })} />
      </Row>
      <Row label={t('deliveries.at')}>
        {times.map((time, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a time that is typed keeps its box
          <span key={i} className="inline-flex items-center">
            <TimeBox
              label={t('deliveries.time')}
              value={time}
              onChange={(next) => change({ times: times.map((one, j) => (j === i ? next : one)) })}
            />
            {times.length > 1 && (
              <IconButton
                label={t('deliveries.removeTime', { time })}
                onClick={() => change({ times: times.filter((_, j) => j !== i) })}
              >
                <X size={13} />
              </IconButton>
            )}
          </span>
        ))}
        <IconButton label={t('deliveries.addTime')} onClick={() => change({ times: [...times, '12:00'] })}>
          <Plus size={14} />
        </IconButton>
        <ZoneSelect zone={zone} onPick={(next) => change({ zone: next })} />
      </Row>
      <details open={isLimited}>
        <summary className="cursor-pointer text-ink-2 hover:text-pine">{t('deliveries.exceptions')}</summary>
        <Row label={t('deliveries.leftOut')}>
          <LeftOut days={leftOut} onChange={(next) => change({ leftOut: next })} />
        </Row>
        <Row label={t('deliveries.span')}>
          <input
            type="date"
            className={`${inputLook} w-40!`}
            aria-label={t('deliveries.from')}
            value={from ?? ''}
            onChange={(event) => setEnd('from', event.target.value)}
          />
          {t('deliveries.until')}
          <input
            type="date"
            className={`${inputLook} w-40!`}
            aria-label={t('deliveries.until')}
            value={until ?? ''}
            onChange={(event) => setEnd('until', event.target.value)}
          />
        </Row>
        <Row label={t('deliveries.missed')}>
          <Select
            label={t('deliveries.missed')}
            className="w-72!"
            value={missed}
            choices={MISSED.map((value) => ({ value, label: t(`deliveries.missed_${value}`) }))}
            onPick={(next) => change({ missed: next })}
          />
        </Row>
      </details>
    </>
  );
};

/** What else says which days they are: which of the week, which of the month, every how many. */
const DaysBoxes = ({ days, onChange }: { days: CalendarDays; onChange: (days: CalendarDays) => void }) => {
  const { t, i18n } = useTranslation();
  const weekdays = weekdayNames(i18n.language);
  const short = weekdayNames(i18n.language, 'short');
  const months = monthNames(i18n.language);
  const every = (count: number, unit: 'day' | 'week', put: (next: number) => void) => (
    <label className="inline-flex items-center gap-1.5">
      {t('deliveries.everySo')}
      <input
        type="number"
        min={1}
        max={120}
        className={`${inputLook} w-16!`}
        value={count}
        onChange={(event) => put(Math.min(120, Math.max(1, Math.floor(Number(event.target.value) || 1))))}
      />
      {t(`deliveries.unit_${unit}`, { count })}
    </label>
  );
  if (days.each === 'working-day') return null;
  if (days.each === 'day') return every(days.every, 'day', (next) => onChange({ ...days, every: next }));
  if (days.each === 'week')
    return (
      <>
        <fieldset aria-label={t('deliveries.weekdays')} className="inline-flex gap-0.5">
          {short.map((name, i) => {
            const isOn = days.on.includes(i + 1);
            const next = isOn ? days.on.filter((one) => one !== i + 1) : [...days.on, i + 1];
            return (
              <button
                key={name}
                type="button"
                aria-pressed={isOn}
                aria-label={weekdays[i]}
                className={`h-[26px] min-w-9 rounded border px-1 ${isOn ? 'border-pine bg-pine-soft font-semibold text-pine' : 'border-rule hover:bg-desk/50'}`}
                onClick={() => next.length > 0 && onChange({ ...days, on: next })}
              >
                {name}
              </button>
            );
          })}
        </fieldset>
        {every(days.every, 'week', (next) => onChange({ ...days, every: next }))}
      </>
    );
  const { on } = days;
  const inMonths = (
    <Select
      label={t('deliveries.months')}
      className="w-44!"
      value={
        days.months
          ? days.months.length === 1
            ? String(days.months[0])
            : days.months.length === 4
              ? 'quarter'
              : ''
          : 'all'
      }
      choices={[
        { value: 'all', label: t('deliveries.everyMonth') },
        { value: 'quarter', label: t('deliveries.everyQuarter') },
        ...months.map((name, i) => ({ value: String(i + 1), label: name })),
      ]}
      onPick={(picked) => {
        const { months: _, ...others } = days;
        if (picked === 'all') onChange(others);
        else onChange({ ...days, months: picked === 'quarter' ? [1, 4, 7, 10] : [Number(picked)] });
      }}
    />
  );
  if ('day' in on)
    return (
      <>
        <Select
          label={t('deliveries.dayOfMonth')}
          className="w-16!"
          value={String(on.day)}
          choices={Array.from({ length: 31 }, (_, i) => ({ value: String(i + 1), label: String(i + 1) }))}
          onPick={(day) => onChange({ ...days, on: { ...on, day: Number(day) } })}
        />
        {inMonths}
        {on.day > 28 && (
          <Select
            label={t('deliveries.shortMonths')}
            className="w-60!"
            value={on.short}
            choices={(['last', 'skip'] as const).map((value) => ({ value, label: t(`deliveries.short_${value}`) }))}
            onPick={(next) => onChange({ ...days, on: { ...on, short: next } })}
          />
        )}
      </>
    );
  if ('nth' in on)
    return (
      <>
        <Select
          label={t('deliveries.nth')}
          className="w-28!"
          value={String(on.nth)}
          choices={([1, 2, 3, 4, 5, 'last'] as const).map((value) => ({
            value: String(value),
            label: t(ordinalKey(value, on.weekday)),
          }))}
          onPick={(nth) =>
            onChange({ ...days, on: { ...on, nth: nth === 'last' ? 'last' : (Number(nth) as 1 | 2 | 3 | 4 | 5) } })
          }
        />
        <Select
          label={t('deliveries.weekday')}
          className="w-36!"
          value={String(on.weekday)}
          choices={weekdays.map((name, i) => ({ value: String(i + 1), label: name }))}
          onPick={(weekday) => onChange({ ...days, on: { ...on, weekday: Number(weekday) } })}
        />
        {inMonths}
      </>
    );
  return (
    <>
      <Select
        label={t('deliveries.end')}
        className="w-44!"
        value={`${on.end} ${on.of}`}
        choices={(['first day', 'last day', 'first working-day', 'last working-day'] as const).map((value) => ({
          value: value as string,
          label: t(
            `deliveries.end_${value.replace(/[ -]/g, '_') as 'first_day' | 'last_day' | 'first_working_day' | 'last_working_day'}`,
          ),
        }))}
        onPick={(picked) => {
          const [end, of] = picked.split(' ') as ['first' | 'last', 'day' | 'working-day'];
          onChange({ ...days, on: { end, of } });
        }}
      />
      {inMonths}
    </>
  );
};

const LeftOut = ({ days, onChange }: { days: readonly string[]; onChange: (days: string[]) => void }) => {
  const { t, i18n } = useTranslation();
  const [day, setDay] = useState('');
  const [isYearly, setIsYearly] = useState(false);
  const written = (one: string): string =>
    new Intl.DateTimeFormat(i18n.language, {
      ...{ day: 'numeric', month: 'short', timeZone: 'UTC' },
      ...(one.length === 10 ? { year: 'numeric' } : {}),
    }).format(Date.parse(one.length === 10 ? one : `2024-${one}`));
  return (
    <>
      {days.map((one) => (
        <span key={one} className="inline-flex items-center rounded-full border border-rule ps-2">
          {one.length === 10 ? written(one) : t('deliveries.eachYear', { day: written(one) })}
          <IconButton
            label={t('deliveries.goAgain', { day: written(one) })}
            className="size-6!"
            onClick={() => onChange(days.filter((other) => other !== one))}
          >
            <X size={12} />
          </IconButton>
        </span>
      ))}
      <input
        type="date"
        className={`${inputLook} w-40!`}
        aria-label={t('deliveries.leaveOut')}
        value={day}
        onChange={(event) => setDay(event.target.value)}
      />
      <label className="inline-flex items-center gap-1">
        <input type="checkbox" checked={isYearly} onChange={(event) => setIsYearly(event.target.checked)} />
        {t('deliveries.yearly')}
      </label>
      <Button
        disabled={day === ''}
        onClick={() => {
          const next = isYearly ? day.slice(5) : day;
          if (!days.includes(next)) onChange([...days, next].sort());
          setDay('');
        }}
      >
        {t('deliveries.add')}
      </Button>
    </>
  );
};
