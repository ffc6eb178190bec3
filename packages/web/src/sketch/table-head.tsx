import {
  blankWord,
  changedColumn,
  conditionOfValues,
  conditionWithout,
  type Field,
  type GroupValue,
  type SketchCondition,
} from '@gaveta/core/internal';
import { ChevronsDownUp, ChevronsUpDown } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { useTranslation } from '../i18n/use-translation.ts';
import { IconButton } from '../ui/controls.tsx';
import { MenuLine } from '../ui/menu-line.tsx';
import type { AcrossCells, AcrossValue } from './across-cells.ts';
import { AcrossCaption, Caption, GroupCaption } from './caption.tsx';
import type { OpenGroups } from './line-tree.ts';
import { useParts } from './parts.ts';
import { gridColumn, type LineLook, type Resized } from './table-layout.ts';
import { groupLabel, valueText } from './words.ts';

/** Heights of its lines, in CSS pixels, with the rule below. */
export const headHeight = (hasAcross: boolean, hasCaptions: boolean): number =>
  1 + (hasAcross ? 48 : 0) + (hasCaptions ? 28 : 0);

interface Props {
  look: LineLook;
  across: AcrossCells;
  /** Levels of groups that can be folded. */
  levels: number;
  onOpen: (open: OpenGroups) => void;
  onResize: (resized: Resized | null) => void;
}

/** Captions of groups and columns, below those of values across. */
export const TableHead = ({ look, across, levels, onOpen, onResize }: Props) => {
  const { t } = useTranslation();
  const { sketch, change, reach } = useParts();
  const { cells, drawn } = look;
  const perValue = Math.max(1, new Set(cells.map(({ column }) => column.name)).size);
  // A single column goes without a caption below each value.
  const hasCaptions = !sketch.across || perValue > 1;
  const lines = (sketch.across ? 2 : 0) + (hasCaptions ? 1 : 0);
  const values = sketch.across ? drawn.filter((i) => i % perValue === 0) : [];
  return (
    <div
      role="row"
      className="sticky top-0 z-20 grid border-b border-ink bg-paper"
      style={{
        gridTemplateColumns: look.template,
        gridTemplateRows: [...(sketch.across ? ['20px', '28px'] : []), ...(hasCaptions ? ['28px'] : [])].join(' '),
      }}
    >
      {look.hasGroups && (
        <div
          role="columnheader"
          className="sticky start-0 z-10 flex items-end bg-paper ps-2.5"
          style={{ gridRow: `1 / span ${lines}`, gridColumn: 1 }}
          data-drop="groups"
        >
          <span className="min-w-0 flex-1 truncate leading-7">
            {sketch.groups.map((group, i) => (
              <span key={group.name}>
                {i > 0 && <span className="text-ink-3"> › </span>}
                <GroupCaption name={group.name} label={groupLabel(group, reach)} />
              </span>
            ))}
          </span>
          {levels > 0 && (
            <>
              <IconButton label={t('sketch.openAll')} onClick={() => onOpen({ levels, turned: new Set() })}>
                <ChevronsUpDown size={14} />
              </IconButton>
              <IconButton label={t('sketch.closeAll')} onClick={() => onOpen({ levels: 0, turned: new Set() })}>
                <ChevronsDownUp size={14} />
              </IconButton>
            </>
          )}
        </div>
      )}
      {sketch.across && (
        <div
          role="columnheader"
          data-drop="across"
          className="min-w-0 text-[11.5px]"
          style={{ gridRow: 1, gridColumn: `${look.hasGroups ? 2 : 1} / -1` }}
        >
          <span className="sticky inline-block px-2" style={{ insetInlineStart: look.groupWidth }}>
            <AcrossCaption across={sketch.across} />
          </span>
        </div>
      )}
      {values.map((i) => (
        <div
          key={cells[i]!.over?.key ?? 'all'}
          role="columnheader"
          data-across={cells[i]!.over?.key ?? 'all'}
          className={`flex min-w-0 items-center px-1 font-semibold ${perValue > 1 ? 'border-s border-rule-soft' : 'justify-end'}`}
          style={{ gridRow: 2, gridColumn: `${gridColumn(look, i)} / span ${perValue}` }}
        >
          <ValueCaption over={cells[i]!.over} field={across.fields[0]} />
        </div>
      ))}
      {hasCaptions &&
        drawn.map((i) => (
          <Caption
            key={i}
            cell={cells[i]!}
            place={{ gridRow: lines, gridColumn: gridColumn(look, i) }}
            isFirst={i < perValue}
            onResize={(width) => onResize({ name: cells[i]!.column.name, width })}
            onResized={(width) => {
              onResize(null);
              const rounded = width === null ? undefined : Math.round(width);
              change(changedColumn(sketch, cells[i]!.column.name, { width: rounded }));
            }}
          />
        ))}
    </div>
  );
};

/** The caption of a value across: a press keeps only its rows, or leaves them out. */
const ValueCaption = ({ over, field }: { over: AcrossValue | null; field: Field | undefined }) => {
  const { t } = useTranslation();
  const { sketch, change } = useParts();
  const { across } = sketch;
  if (!over || !across) return <span className="truncate px-1.5">{t('sketch.all')}</span>;
  const value = over.value as GroupValue;
  const text = value === null || value === '' ? blankWord(sketch.language) : valueText(value, field, sketch);
  const add = (condition: SketchCondition | null): void => {
    if (condition) change({ ...sketch, only: [...sketch.only, condition] });
  };
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger asChild>
        <button type="button" className="min-w-0 rounded px-1.5 py-0.5 hover:bg-pine-soft/60">
          <bdi className="block truncate">{text}</bdi>
        </button>
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="end" className="z-60 rounded-lg border border-rule bg-paper p-1 shadow-lg">
          <MenuLine onSelect={() => add(conditionOfValues(across, [value]))}>
            {t('sketch.onlyValue', { value: text })}
          </MenuLine>
          <MenuLine onSelect={() => add(conditionWithout(across, value))}>
            {t('sketch.withoutValue', { value: text })}
          </MenuLine>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
};
