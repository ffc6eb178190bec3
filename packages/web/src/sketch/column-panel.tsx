import {
  changedColumn,
  isMeasured,
  MOST_GROUPS,
  movedColumn,
  reachedField,
  type Sketch,
  type SketchColumn,
  type StepTotal,
  sketchTotal,
  sortedBy,
  withGroup,
  withoutColumn,
} from '@gaveta/core/internal';
import { ArrowLeft, ArrowRight, EyeOff, Pin } from 'lucide-react';
import { totalsFor } from '../data/totals.ts';
import { FORMATS, formatKind } from '../designer/settings/formats.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { Check } from '../ui/commit.tsx';
import { IconButton, Line } from '../ui/controls.tsx';
import { Select } from '../ui/select.tsx';
import { FormulaLine } from './formula-line.tsx';
import { GroupFilters } from './group-filter.tsx';
import { HighlightLines } from './highlight-lines.tsx';
import { KeepOnly, PanelFoot, RenameLine, SortButtons } from './panel-parts.tsx';
import { useParts } from './parts.ts';
import { columnLabel, inSentence, typeOf } from './words.ts';

/** Sorting by a column or group, pressed again to undo it. */
export const SortLine = ({ name }: { name: string }) => {
  const { sketch, change, reach } = useParts();
  const own = sketch.order.find(({ by }) => by === name);
  const isDescending = own ? (own.descending ?? false) : null;
  return (
    <SortButtons
      type={typeOf(sketch, name, reach)}
      isDescending={isDescending}
      onPick={(descending) => change(sortedBy(sketch, name, descending === isDescending ? null : descending))}
    />
  );
};

/** Everything that can be done to one column. */
export const ColumnPanel = ({ name, onClose }: { name: string; onClose: () => void }) => {
  const { t, i18n } = useTranslation();
  const parts = useParts();
  const { sketch, change, reach, isReading } = parts;
  const column = sketch.columns.find((c) => c.name === name);
  if (!column) return null;
  const found = column.field === undefined ? null : reachedField(reach, column.field);
  const isMany = found?.at.isMany ?? false;
  // What is worked out on each line has nothing in a row to keep it by; nor has what counts them.
  const mayFilter = column.field !== undefined || column.formula !== undefined;
  const byGroups = sketch.groups.length > 0 && isMeasured(column) && typeOf(sketch, name, reach) === 'number';
  const mayGroup = column.field !== undefined && !isMany && sketch.groups.length < MOST_GROUPS;
  const put = (more: Partial<SketchColumn>): void => change(changedColumn(sketch, name, more));
  const at = sketch.columns.indexOf(column);
  const label = columnLabel(column, reach);
  const plural = reach[0]?.plural ?? '';
  const done = (next: Sketch): void => {
    change(next);
    onClose();
  };
  return (
    <div className="flex flex-col gap-2 p-3">
      <SortLine name={name} />
      {mayFilter && (
        <KeepOnly
          about={isMany || column.field === undefined ? { column: name } : { field: column.field }}
          {...(byGroups && { words: t('sketch.keepGroupsDots', { groups: inSentence(plural, i18n.language) }) })}
        />
      )}
      {byGroups && <GroupFilters column={name} />}
      {!isReading && (
        <>
          <Totals column={column} put={put} />
          <Shown column={column} put={put} />
          {(column.formula !== undefined || column.ofLine !== undefined) && <FormulaLine column={column} />}
          <HighlightLines column={column} put={put} />
          <RenameLine label={label} onRename={(next) => put({ label: next })} />
          <PanelFoot
            turns={
              mayGroup
                ? [
                    {
                      words: t('sketch.groupBy'),
                      onPick: () =>
                        done(withGroup(withoutColumn(sketch, name), column.field!, reach, t('sketch.rowCount'))),
                    },
                  ]
                : []
            }
            remove={{ words: t('sketch.removeColumn'), onPick: () => done(withoutColumn(sketch, name)) }}
          >
            <IconButton
              label={t('sketch.moveLeft')}
              disabled={at === 0}
              onClick={() => change(movedColumn(sketch, name, at - 1))}
            >
              <ArrowLeft size={15} className="rtl:-scale-x-100" />
            </IconButton>
            <IconButton
              label={t('sketch.moveRight')}
              disabled={at === sketch.columns.length - 1}
              onClick={() => change(movedColumn(sketch, name, at + 1))}
            >
              <ArrowRight size={15} className="rtl:-scale-x-100" />
            </IconButton>
            {!sketch.across && (
              <IconButton
                label={t('sketch.pin')}
                aria-pressed={column.pinned === true}
                className={column.pinned ? 'bg-pine-soft' : ''}
                onClick={() => put({ pinned: column.pinned ? undefined : true })}
              >
                <Pin size={15} />
              </IconButton>
            )}
            <IconButton label={t('sketch.hide')} onClick={() => done(changedColumn(sketch, name, { hidden: true }))}>
              <EyeOff size={15} />
            </IconButton>
          </PanelFoot>
        </>
      )}
    </div>
  );
};

interface OwnProps {
  column: SketchColumn;
  put: (more: Partial<SketchColumn>) => void;
}

/** What becomes of many values on the lines of groups, and at the end. */
const Totals = ({ column, put }: OwnProps) => {
  const { t } = useTranslation();
  const { sketch, reach } = useParts();
  if (column.ofLine !== undefined) return null;
  const found = column.field === undefined ? null : reachedField(reach, column.field);
  const isMany = found?.at.isMany ?? false;
  const field =
    column.formula === undefined
      ? found?.field
      : { ...({} as NonNullable<typeof found>['field']), type: 'number' as const };
  const counted = isMany && column.inner?.startsWith('COUNT');
  const totals = counted ? totalsFor({ name: '', label: '', type: 'number' }) : totalsFor(field);
  const choices = totals.map((total) => ({ value: total as string, label: t(`data.total_${total}`) }));
  const nothing = { value: 'nothing', label: t('sketch.noTotal') };
  const pick = (value: string): StepTotal | undefined => (value === 'nothing' ? undefined : (value as StepTotal));
  return (
    <>
      {isMany && (
        <Line label={t('sketch.inner')}>
          <Select
            label={t('sketch.inner')}
            value={column.inner ?? 'SUM'}
            choices={totalsFor(found?.field).map((total) => ({ value: total, label: t(`data.total_${total}`) }))}
            onPick={(inner) => put({ inner })}
          />
        </Line>
      )}
      {(sketch.groups.length > 0 || !sketch.rows) && (
        <Line label={t('sketch.ofGroups')}>
          <Select
            label={t('sketch.ofGroups')}
            value={column.total ?? 'nothing'}
            choices={[nothing, ...choices]}
            onPick={(value) =>
              put({ total: pick(value), ...(sketchTotal(column, true) === column.total ? { end: undefined } : {}) })
            }
          />
        </Line>
      )}
      {!sketch.across && (
        <Line label={t('sketch.atEnd')}>
          <Select
            label={t('sketch.atEnd')}
            value={(sketchTotal(column, true) ?? 'nothing') as string}
            choices={[nothing, ...choices]}
            onPick={(value) => {
              const end = pick(value);
              const isSame = end === column.total;
              put({ end: isSame ? undefined : (end ?? 'nothing') });
            }}
          />
        </Line>
      )}
    </>
  );
};

/** How values look, with bars where they are numbers. */
const Shown = ({ column, put }: OwnProps) => {
  const { t } = useTranslation();
  const { sketch, reach } = useParts();
  const kind = formatKind(typeOf(sketch, column.name, reach) === 'text' ? 'text' : typeOf(sketch, column.name, reach));
  if (kind === null) return null;
  const offered = FORMATS.filter((format) => format.kind === kind);
  const own = column.format !== undefined && !offered.some(({ code }) => code === column.format) ? [column.format] : [];
  return (
    <>
      <Line label={t('designer.shownAs')}>
        <Select
          label={t('designer.shownAs')}
          value={column.format ?? 'field'}
          choices={[
            { value: 'field', label: t('designer.asField') },
            ...offered.map(({ code, name }) => ({ value: code, label: t(`formats.${name}`) })),
            ...own.map((code) => ({ value: code, label: code })),
          ]}
          onPick={(code) => put({ format: code === 'field' ? undefined : code })}
        />
      </Line>
      {kind === 'number' && (
        <Check
          label={t('sketch.bars')}
          checked={column.bars === true}
          onChange={(on) => put({ bars: on ? true : undefined })}
        />
      )}
    </>
  );
};
