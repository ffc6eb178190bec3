import {
  type Comparison,
  comparisonsFor,
  type Field,
  PERIOD_FORMATS,
  type Reached,
  reachedField,
  type SketchCondition,
  withCondition,
} from '@gaveta/core/internal';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { type FieldSpread, sketchQueries } from '../api/sketches.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { problemWords } from '../i18n/words.ts';
import { Button, inputLook } from '../ui/controls.tsx';
import { DayRange } from '../ui/day-range.tsx';
import { Select } from '../ui/select.tsx';
import { useLater } from '../ui/use-later.ts';
import { useParts } from './parts.ts';
import { RangePicture } from './range-picture.tsx';
import { labelOf, pathLabel, valueText } from './words.ts';

/** What is filtered by: a field by its path, or a column that has a value in each row. */
export type Subject = { field: string } | { column: string };
type Test = Exclude<SketchCondition, { formula: string }>;

/** A moment is kept by its day, so that the last day of a range is all in it. */
const dayPer = (field: Pick<Field, 'type'> | undefined): 'day' | undefined =>
  field?.type === 'datetime' ? 'day' : undefined;

/** What the panel of a condition is about; null for conditions that no such panel makes, as those about periods. */
export const subjectOf = (condition: SketchCondition, reach: readonly Reached[]): Subject | null => {
  if ('formula' in condition) return null;
  if ('column' in condition) return condition.of === undefined ? { column: condition.column } : null;
  const { field, per } = condition;
  return per === undefined || per === dayPer(reachedField(reach, field)?.field) ? { field } : null;
};

const isSame = (a: Subject, b: Subject | null): boolean =>
  b !== null && ('field' in a ? 'field' in b && a.field === b.field : 'column' in b && a.column === b.column);

/** Milliseconds that typing must pause before values are looked for. */
const PAUSE = 200;

/** Which rows are kept: by values with their counts, by a range with how the rows lie in it, or by a comparison. */
export const FilterPanel = ({ about }: { about: Subject }) => {
  const { t } = useTranslation();
  const { sketch, change, reach, asked, fixed } = useParts();
  const [search, setSearch] = useState('');
  const { value: later } = useLater(search, PAUSE);
  const values = useQuery({ ...sketchQueries.values(asked, about, later), placeholderData: (old) => old });
  const failure = values.data?.failure;
  const spread = values.data?.found ?? null;
  const field = 'field' in about ? reachedField(reach, about.field)?.field : spread?.field;
  // Those that a reader cannot take away stay as they are.
  const at = sketch.only.findIndex((c, i) => i >= fixed && isSame(about, subjectOf(c, reach)));
  const condition = at < 0 ? null : (sketch.only[at] as Test);
  const per = 'field' in about ? dayPer(field) : undefined;
  const put = (test: Asking | null): void => {
    const of = 'field' in about && test?.to !== undefined && per !== undefined ? { ...about, per } : about;
    const next = test && ({ ...of, ...test } as Test);
    if (at >= 0) change(withCondition(sketch, at, next));
    else if (next) change({ ...sketch, only: [...sketch.only, next] });
  };
  const label = 'field' in about ? pathLabel(about.field, reach) : labelOf(sketch, about.column, reach);
  const isRange = field?.type === 'number' || field?.type === 'date' || field?.type === 'datetime';
  const own = field && { field, condition, put };
  return (
    <div className="flex min-h-0 flex-col gap-2" data-testid="filter" aria-busy={values.isFetching}>
      <div className="flex items-baseline gap-2">
        <h3 className="min-w-0 flex-1 truncate font-semibold">{t('sketch.keepOnly', { field: label })}</h3>
        {condition && (
          <button type="button" className="rounded px-1 text-pine hover:bg-pine-soft" onClick={() => put(null)}>
            {t('sketch.keepAll')}
          </button>
        )}
      </div>
      {failure && (
        <p role="alert" className="rounded bg-rust-soft px-2 py-1 text-rust-strong">
          {problemWords(failure.problem)}
        </p>
      )}
      {!own ? (
        values.isFetching && <p className="text-ink-3">{t('app.loading')}</p>
      ) : (
        <>
          {isRange ? (
            <Range {...own} about={about} spread={spread} />
          ) : (
            <Ticks {...own} spread={spread} search={search} onSearch={setSearch} isFetching={values.isFetching} />
          )}
          <Comparing {...own} />
        </>
      )}
    </div>
  );
};

/** A condition without what it is about. */
type Asking = Pick<Test, 'is' | 'to' | 'orBlank'>;

interface OwnProps {
  field: Field;
  condition: Test | null;
  put: (next: Asking | null) => void;
}

/** Values to tick, each with how many rows have it. */
const Ticks = ({
  field,
  condition,
  put,
  spread,
  search,
  onSearch,
  isFetching,
}: OwnProps & {
  spread: FieldSpread | null;
  search: string;
  onSearch: (text: string) => void;
  isFetching: boolean;
}) => {
  const { t, i18n } = useTranslation();
  const { sketch } = useParts();
  const isList = condition?.is === 'oneOf' && condition.to && 'values' in condition.to;
  const chosen = isList && condition.to && 'values' in condition.to ? condition.to.values.map(String) : [];
  const hasBlank = condition?.orBlank === true || condition?.is === 'blank';
  const as = (value: string): string | boolean =>
    field.type === 'boolean' ? value === 'true' || value === 't' : value;
  const set = (values: readonly string[], blank: boolean): void => {
    if (values.length === 0 && !blank) put(null);
    else if (values.length === 0) put({ is: 'blank' });
    else
      put({
        ...{ is: 'oneOf', to: { values: values.map(as) } },
        ...(blank ? { orBlank: true as const } : {}),
      });
  };
  const shown = spread?.values ?? [];
  const gone = search === '' ? chosen.filter((value) => !shown.some((one) => one.value === value)) : [];
  const count = (rows: number): string => rows.toLocaleString(i18n.language);
  const label = (value: string): string => valueText(as(value), field.type === 'boolean' ? undefined : field, sketch);
  const words = (value: string): string =>
    field.type === 'boolean' ? t(as(value) ? 'data.yes' : 'data.no') : label(value);
  const line = (key: string, text: string, rows: string, isOn: boolean, turn: (on: boolean) => void) => (
    <label key={key} className="flex items-center gap-2 rounded px-1.5 py-0.5 hover:bg-desk/50">
      <input type="checkbox" checked={isOn} onChange={({ target }) => turn(target.checked)} />
      <bdi className="min-w-0 flex-1 truncate">{text}</bdi>
      <span className="text-ink-3">{rows}</span>
    </label>
  );
  return (
    <>
      {(search !== '' || (spread?.distinct ?? 0) > 8) && (
        <input
          type="search"
          className={inputLook}
          aria-label={t('sketch.findValue')}
          placeholder={t('sketch.findValue')}
          value={search}
          onChange={({ target }) => onSearch(target.value)}
        />
      )}
      <fieldset
        aria-label={t('data.values')}
        className="max-h-60 min-h-8 overflow-auto rounded border border-rule py-1"
      >
        {spread &&
          spread.blanks > 0 &&
          search === '' &&
          line('blank', t('sketch.noValue'), count(spread.blanks), hasBlank, (on) => set(chosen, on))}
        {[...shown, ...gone.map((value) => ({ value, count: 0 }))].map(({ value, count: rows }) =>
          line(`=${value}`, words(value), count(rows), chosen.includes(value), (on) =>
            set(on ? [...chosen, value] : chosen.filter((other) => other !== value), hasBlank),
          ),
        )}
        {spread && shown.length === 0 && gone.length === 0 && spread.blanks === 0 && !isFetching && (
          <p className="px-2 text-ink-3">{t('add.none')}</p>
        )}
        {!spread && isFetching && <p className="px-2 text-ink-3">{t('app.loading')}</p>}
      </fieldset>
      {spread && search === '' && spread.distinct > shown.length && (
        <p className="text-ink-3">{t('sketch.mostFrequent', { count: shown.length, all: count(spread.distinct) })}</p>
      )}
    </>
  );
};

/** A range of numbers or days, over how the rows lie in it. */
const Range = ({ about, field, condition, put, spread }: OwnProps & { about: Subject; spread: FieldSpread | null }) => {
  const { t } = useTranslation();
  const { sketch } = useParts();
  const isNumber = field.type === 'number';
  const { to } = condition ?? {};
  const ends =
    to && 'from' in to
      ? { from: String(to.from), to: String(to.to) }
      : to && 'value' in to && condition!.is === 'greaterOrEqual'
        ? { from: String(to.value), to: '' }
        : to && 'value' in to && condition!.is === 'lessOrEqual'
          ? { from: '', to: String(to.value) }
          : { from: '', to: '' };
  const set = (from: string, until: string): void => {
    const as = (text: string): string | number => (isNumber ? Number(text) : text);
    const isGood = (text: string): boolean => !isNumber || (text !== '' && Number.isFinite(Number(text)));
    if (from === '' && until === '') put(null);
    else if (until === '') isGood(from) && put({ is: 'greaterOrEqual', to: { value: as(from) } });
    else if (from === '') isGood(until) && put({ is: 'lessOrEqual', to: { value: as(until) } });
    else if (isGood(from) && isGood(until)) put({ is: 'between', to: { from: as(from), to: as(until) } });
  };
  const day = (text: string): string => (isNumber ? text : text.slice(0, 10));
  return (
    <>
      {spread && spread.least !== null && spread.most !== null && spread.bins.length > 1 && (
        <RangePicture
          bins={spread.bins}
          least={spread.least}
          most={spread.most}
          isNumber={isNumber}
          from={ends.from}
          to={ends.to}
          show={(value) =>
            isNumber
              ? valueText(value, field, sketch)
              : valueText(day(value), { ...field, type: 'date' }, sketch, PERIOD_FORMATS.day)
          }
          onRange={(from, until) => set(day(from), day(until))}
        />
      )}
      <div className="grid grid-cols-2 gap-2">
        <EndBox
          label={t('data.from')}
          value={day(ends.from)}
          isNumber={isNumber}
          onCommit={(from) => set(from, day(ends.to))}
        />
        <EndBox
          label={t('data.until')}
          value={day(ends.to)}
          isNumber={isNumber}
          onCommit={(until) => set(day(ends.from), until)}
        />
      </div>
      {!isNumber && spread && spread.least !== null && spread.most !== null && (
        <DayRange
          from={day(ends.from)}
          to={day(ends.to)}
          least={day(spread.least)}
          most={day(spread.most)}
          onRange={set}
        />
      )}
      {!isNumber && 'field' in about && (
        <div className="flex flex-wrap gap-1">
          {(['thisMonth', 'lastMonth', 'thisYear', 'lastYear'] as const).map((window) => (
            <Window key={window} window={window} path={about.field} />
          ))}
        </div>
      )}
      {spread && spread.blanks > 0 && condition === null && (
        <p className="text-ink-3">{t('sketch.blanks', { count: spread.blanks })}</p>
      )}
    </>
  );
};

const WINDOWS = {
  thisMonth: ['month', 'TODAY()'],
  lastMonth: ['month', 'EDATE(TODAY();-1)'],
  thisYear: ['year', 'TODAY()'],
  lastYear: ['year', 'EDATE(TODAY();-12)'],
} as const;

/** A time that goes on with the calendar, as a condition of its own. */
const Window = ({ window, path }: { window: keyof typeof WINDOWS; path: string }) => {
  const { t } = useTranslation();
  const { sketch, change, reach, isReading } = useParts();
  if (isReading) return null;
  const [per, day] = WINDOWS[window];
  const formula = `PERIOD(${path};"${per}") = PERIOD(${day};"${per}")`;
  const at = sketch.only.findIndex((c) => 'formula' in c && c.formula === formula);
  const label = t(`sketch.window_${window}`, { field: pathLabel(path, reach) });
  return (
    <button
      type="button"
      aria-pressed={at >= 0}
      className={`rounded-full border px-2 py-0.5 ${at >= 0 ? 'border-pine bg-pine-soft' : 'border-rule hover:bg-desk/50'}`}
      onClick={() =>
        change(at >= 0 ? withCondition(sketch, at, null) : { ...sketch, only: [...sketch.only, { formula, label }] })
      }
    >
      {t(`sketch.${window}`)}
    </button>
  );
};

const EndBox = ({
  label,
  value,
  isNumber,
  onCommit,
}: {
  label: string;
  value: string;
  isNumber: boolean;
  onCommit: (text: string) => void;
}) => {
  const [draft, setDraft] = useState<string | null>(null);
  const commit = (): void => {
    if (draft !== null && draft !== value) onCommit(isNumber ? draft.trim().replace(',', '.') : draft);
    setDraft(null);
  };
  return (
    <label className="flex flex-col gap-0.5">
      <span className="text-[11.5px] text-ink-2">{label}</span>
      <input
        // The calendar stands below.
        className={`${inputLook} [&::-webkit-calendar-picker-indicator]:hidden`}
        type={isNumber ? 'text' : 'date'}
        inputMode={isNumber ? 'decimal' : undefined}
        value={draft ?? value}
        onChange={({ target }) => {
          setDraft(target.value);
          // A calendar gives whole days.
          if (!isNumber && target.value !== '') {
            onCommit(target.value);
            setDraft(null);
          }
        }}
        onBlur={commit}
        onKeyDown={(event) => event.key === 'Enter' && commit()}
      />
    </label>
  );
};

/** What ticks and ranges are for. */
const SHOWN: readonly Comparison[] = ['oneOf', 'within', 'between'];

/** Any other comparison with a value. */
const Comparing = ({ field, condition, put }: OwnProps) => {
  const { t } = useTranslation();
  const [open, setOpen] = useState(false);
  const choices = comparisonsFor(field.type).filter((one) => !SHOWN.includes(one));
  const [is, setIs] = useState<Comparison>(condition && choices.includes(condition.is) ? condition.is : choices[0]!);
  const given = condition?.to && 'value' in condition.to ? String(condition.to.value) : '';
  const [value, setValue] = useState(given);
  const takesValue = is !== 'blank' && is !== 'notBlank';
  if (!open)
    return (
      <button
        type="button"
        className="self-start rounded px-1 text-pine hover:bg-pine-soft"
        onClick={() => setOpen(true)}
      >
        {t('sketch.otherComparison')}
      </button>
    );
  const isNumber = field.type === 'number';
  const isBad = takesValue && (value.trim() === '' || (isNumber && !Number.isFinite(Number(value.replace(',', '.')))));
  return (
    <form
      className="flex gap-1.5"
      onSubmit={(event) => {
        event.preventDefault();
        if (isBad) return;
        const typed = isNumber ? Number(value.replace(',', '.')) : field.type === 'boolean' ? value === 'true' : value;
        put({ is, ...(takesValue ? { to: { value: typed } } : {}) });
      }}
    >
      <Select
        label={t('data.comparison')}
        value={is}
        choices={choices.map((one) => ({ value: one, label: t(`data.is_${one}`) }))}
        onPick={setIs}
      />
      {takesValue && (
        <input
          className={inputLook}
          aria-label={t('data.value')}
          type={field.type === 'date' || field.type === 'datetime' ? 'date' : 'text'}
          value={value}
          onChange={({ target }) => setValue(target.value)}
        />
      )}
      <Button type="submit" disabled={isBad}>
        {t('sketch.keep')}
      </Button>
    </form>
  );
};
