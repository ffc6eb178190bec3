import {
  type Field,
  MOST_GROUPS,
  type Reached,
  type SketchCondition,
  type SketchGroup,
  shownPaths,
  withAcross,
  withColumn,
  withCondition,
  withFirst,
  withGroup,
  withRows,
} from '@gaveta/core/internal';
import { X } from 'lucide-react';
import type { ReactNode } from 'react';
import { sourceLabel } from '../data/sources.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { IconButton } from '../ui/controls.tsx';
import { AcrossPanel } from './across-panel.tsx';
import { ColumnPanel } from './column-panel.tsx';
import { FieldPick } from './field-pick.tsx';
import { FilterPanel, subjectOf } from './filter.tsx';
import { GroupFilter } from './group-filter.tsx';
import { GroupPanel } from './group-panel.tsx';
import { OrderPanel } from './order-panel.tsx';
import { useParts } from './parts.ts';
import { Listed, Word, Zone } from './word.tsx';
import { columnLabel, conditionWords, groupLabel, groupPlural, groupWords, inSentence, orderWords } from './words.ts';

const isOne = (_: Field, at: Reached): boolean => !at.isMany;

/** A part of the sentence that says there is nothing of it. */
const None = ({ children }: { children: string }) => <span className="text-ink-3">{children}</span>;

/** The question in words, each of which can be pressed. */
export const Sentence = ({ onRows }: { onRows: () => ReactNode }) => {
  const { t, i18n } = useTranslation();
  const { sketch, reach, models, recipes, isReading } = useParts();
  return (
    <section aria-label={t('sketch.question')} data-testid="sentence" className="px-4 py-2.5 text-[15px] leading-8">
      {t('sketch.show')}{' '}
      <Word id="rows" tone="plain" label={t(sketch.rows ? 'sketch.eachRow' : 'sketch.totals')} width="w-56">
        {isReading ? null : (close) => <RowsChoice onClose={close} />}
      </Word>{' '}
      {t('sketch.of')}{' '}
      <Word
        id="from"
        tone="plain"
        label={inSentence(
          isReading ? (reach[0]?.plural ?? '') : sourceLabel(sketch.from, models, recipes),
          i18n.language,
        )}
        width="w-80"
      >
        {isReading ? null : () => onRows()}
      </Word>
      {': '}
      <Columns />
      <Groups />
      <Across />
      <Only />
      {', '}
      <Order />
      <First />.
    </section>
  );
};

const Columns = () => {
  const { t, i18n } = useTranslation();
  const { sketch, change, reach, isReading } = useParts();
  const columns = sketch.columns.filter(({ hidden }) => !hidden);
  return (
    <Zone zone="columns">
      {columns.length === 0 && <None>{t('sketch.noColumns')}</None>}
      <Listed
        and={t('sketch.and')}
        words={columns.map((column) => (
          <Word
            key={column.name}
            id={`column ${column.name}`}
            tone="column"
            label={inSentence(columnLabel(column, reach), i18n.language)}
          >
            {(close) => <ColumnPanel name={column.name} onClose={close} />}
          </Word>
        ))}
      />
      {!isReading && (
        <>
          {' '}
          <FieldPick
            id="column"
            label={t('sketch.addColumn')}
            takes={() => true}
            onPick={(path) => change(withColumn(sketch, path, reach))}
          />
        </>
      )}
    </Zone>
  );
};

const Groups = () => {
  const { t, i18n } = useTranslation();
  const { sketch, change, reach, isReading } = useParts();
  const { groups } = sketch;
  if (groups.length === 0 && isReading) return null;
  const words = (group: SketchGroup): string => groupWords(t, group, reach, i18n.language);
  return (
    <Zone zone="groups">
      {groups.length === 0 ? (
        <>
          {', '}
          <None>{t('sketch.notGrouped')}</None>
        </>
      ) : (
        ` ${t('sketch.forEach')} `
      )}
      <Listed
        and={t('sketch.and')}
        words={groups.map((group) => (
          <Word key={group.name} id={`group ${group.name}`} tone="group" label={words(group)}>
            {(close) => <GroupPanel name={group.name} onClose={close} />}
          </Word>
        ))}
      />
      {!isReading && groups.length < MOST_GROUPS && (
        <>
          {' '}
          <FieldPick
            id="group"
            label={t('sketch.addGroup')}
            takes={isOne}
            onPick={(path) => change(withGroup(sketch, path, reach, t('sketch.rowCount')))}
          />
        </>
      )}
    </Zone>
  );
};

const Across = () => {
  const { t, i18n } = useTranslation();
  const { sketch, change, reach, isReading } = useParts();
  const { across } = sketch;
  if (!across && isReading) return null;
  return (
    <Zone zone="across">
      {', '}
      {across ? (
        <>
          {t('sketch.across')}{' '}
          <Word id="across" tone="group" label={groupWords(t, across, reach, i18n.language)}>
            {(close) => <AcrossPanel onClose={close} />}
          </Word>
        </>
      ) : (
        <>
          <None>{t('sketch.nothingAcross')}</None>{' '}
          <FieldPick
            id="across"
            label={t('sketch.addAcross')}
            takes={isOne}
            onPick={(path) => change(withAcross(sketch, path, reach, t('sketch.rowCount')))}
          />
        </>
      )}
    </Zone>
  );
};

const Only = () => {
  const { t } = useTranslation();
  const { sketch, reach, isReading } = useParts();
  const { only } = sketch;
  const shown = shownPaths(sketch);
  return (
    <Zone zone="only">
      {', '}
      {only.length === 0 ? <None>{t('sketch.notFiltered')}</None> : `${t('sketch.only')} `}
      <Listed
        and={t('sketch.and')}
        words={only.map((condition, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: conditions are told apart by their place
          <Word key={i} id={`only ${i}`} tone="group" label={conditionWords(t, condition, reach, sketch)}>
            {(close) => <ConditionPanel condition={condition} at={i} onClose={close} />}
          </Word>
        ))}
      />{' '}
      <FieldPick
        id="only"
        label={t('sketch.addCondition')}
        takes={(field, at) => isOne(field, at) && (!isReading || shown.has([...at.way, field.name].join('.')))}
        onPick={() => {}}
        follow={(path) => <FilterPanel about={{ field: path }} />}
      />
    </Zone>
  );
};

const ConditionPanel = ({
  condition,
  at,
  onClose,
}: {
  condition: SketchCondition;
  at: number;
  onClose: () => void;
}) => {
  const { t } = useTranslation();
  const { sketch, change, reach, fixed } = useParts();
  const isOwn = at >= fixed;
  const about = subjectOf(condition, reach);
  return (
    <div className="flex flex-col gap-2 p-3">
      {isOwn && about ? (
        <FilterPanel about={about} />
      ) : isOwn && 'column' in condition ? (
        <GroupFilter column={condition.column} of={condition.of!} />
      ) : (
        <span>{conditionWords(t, condition, reach, sketch)}</span>
      )}
      {isOwn && (
        <button
          type="button"
          className="self-start rounded px-1 text-pine hover:bg-pine-soft"
          onClick={() => {
            onClose();
            change(withCondition(sketch, at, null));
          }}
        >
          {t('sketch.removeCondition')}
        </button>
      )}
    </div>
  );
};

const Order = () => {
  const { t } = useTranslation();
  const { sketch, reach } = useParts();
  return (
    <Word id="order" tone="group" label={orderWords(t, sketch, reach) ?? t('sketch.noOrder')} width="w-64">
      {() => <OrderPanel />}
    </Word>
  );
};

const First = () => {
  const { t, i18n } = useTranslation();
  const { sketch, change, reach, isReading } = useParts();
  const { first, groups } = sketch;
  const at = groups.findIndex(({ name }) => name === first?.of);
  const group = groups[at];
  if (!first || !group) return null;
  const around = groups[at - 1];
  const words = {
    count: first.count,
    of: groupPlural(t, group, reach, i18n.language),
    around: around ? inSentence(groupLabel(around, reach), i18n.language) : '',
  };
  return (
    <>
      {', '}
      <Word id="first" tone="group" label={t(around ? 'sketch.theFirstOf' : 'sketch.theFirst', words)}>
        {isReading ? null : (close) => <GroupPanel name={first.of} onClose={close} />}
      </Word>
      {!isReading && (
        <IconButton
          label={t('sketch.keepAllGroups')}
          className="size-5! align-middle"
          onClick={() => change(withFirst(sketch, first.of, null))}
        >
          <X size={12} />
        </IconButton>
      )}
    </>
  );
};

/** Each row, or the totals alone. */
const RowsChoice = ({ onClose }: { onClose: () => void }) => {
  const { t } = useTranslation();
  const { sketch, change } = useParts();
  return (
    <div className="flex flex-col p-1.5">
      {([true, false] as const).map((rows) => (
        <button
          key={String(rows)}
          type="button"
          aria-pressed={rows === sketch.rows}
          className={`rounded px-2 py-1 text-start hover:bg-pine-soft ${rows === sketch.rows ? 'font-semibold' : ''}`}
          onClick={() => {
            onClose();
            change(withRows(sketch, rows));
          }}
        >
          {t(rows ? 'sketch.eachRow' : 'sketch.totals')}
        </button>
      ))}
    </div>
  );
};
