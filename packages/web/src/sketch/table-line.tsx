import { blankWord, type SketchColumn, shownFormat, sketchTotal, type WireValue } from '@gaveta/core/internal';
import { ChevronDown, ChevronRight } from 'lucide-react';
import { memo } from 'react';
import { useTranslation } from '../i18n/use-translation.ts';
import type { EndLine } from './asked-lines.ts';
import type { TableLine } from './line-tree.ts';
import { useParts } from './parts.ts';
import type { SketchLines } from './use-lines.ts';
import { valueText } from './words.ts';

/** Height of a line, in CSS pixels. */
export const ROW = 28;

/** How lines are laid out. */
export interface LineLook {
  columns: readonly SketchColumn[];
  /** Distance from the start of those that stay in view, in CSS pixels; null for those that scroll. */
  lefts: readonly (number | null)[];
  hasGroups: boolean;
  /** Of a CSS grid. */
  template: string;
  minWidth: number;
  isRight: readonly boolean[];
}

interface Props {
  line: TableLine;
  /** Its place; negative for one that stays at the top. */
  index: number;
  look: LineLook;
  lines: SketchLines;
  isActive: boolean;
  onTurn: (line: TableLine) => void;
}

/** Of groups that hold others, by depth; opaque, since lines scroll behind those that stay. */
const GROUND = ['bg-[color-mix(in_srgb,var(--color-brass-soft)_50%,var(--color-paper))]', 'bg-sheet', 'bg-sheet'];

/** One group with its totals, or one row. */
export const Line = ({ line, index, look, lines, isActive, onTurn }: Props) => {
  const { t } = useTranslation();
  const { sketch } = useParts();
  const { kind, depth, values, fields } = line;
  const isGroup = kind === 'group';
  const isInner = isGroup && (depth < sketch.groups.length - 1 || sketch.rows);
  const isStriped = sketch.stripes && !isInner && index % 2 === 1;
  const ground = isInner ? (GROUND[depth] ?? 'bg-sheet') : isStriped ? 'bg-desk/60' : 'bg-paper';
  const label = (): string => {
    const value = values?.[depth] ?? null;
    return value === null || value === '' ? blankWord(sketch.language) : valueText(value, fields[depth], sketch);
  };
  return (
    <div
      role="row"
      id={index >= 0 ? `sketch-line-${index}` : undefined}
      aria-level={depth + 1}
      aria-expanded={line.isFoldable ? line.isOpen : undefined}
      aria-rowindex={index >= 0 ? index + 2 : undefined}
      data-line={kind}
      className={`grid h-7 border-b border-rule-soft ${ground} ${isActive ? 'outline-2 outline-offset-[-2px] outline-pine' : ''}`}
      style={{ gridTemplateColumns: look.template }}
    >
      {look.hasGroups && (
        <div
          role="rowheader"
          className={`sticky start-0 z-[1] flex min-w-0 items-center ${isGroup ? ground : ''} ${isInner ? 'font-semibold' : ''}`}
          style={{ paddingInlineStart: 8 + depth * 18 }}
        >
          {isGroup && line.isFoldable && (
            <button
              type="button"
              tabIndex={-1}
              aria-label={t(line.isOpen ? 'sketch.close' : 'sketch.open', { group: label() })}
              className="me-1 grid size-5 flex-none place-items-center rounded text-brass hover:bg-desk"
              onClick={() => onTurn(line)}
            >
              {line.isOpen ? <ChevronDown size={15} /> : <ChevronRight size={15} className="rtl:-scale-x-100" />}
            </button>
          )}
          {isGroup && !line.isFoldable && depth > 0 && <span className="w-6 flex-none" />}
          {isGroup && <bdi className="truncate">{values ? label() : '…'}</bdi>}
        </div>
      )}
      {look.columns.map((column, i) => {
        const at = fields.findIndex(({ name }) => name === column.name);
        return (
          <Cell
            key={column.name}
            column={column}
            value={values === null ? undefined : at < 0 ? null : (values[at] ?? null)}
            field={fields[at]}
            isGroup={isGroup}
            isBold={isInner}
            isRight={look.isRight[i]!}
            left={look.lefts[i]!}
            ground={ground}
            largest={column.bars ? lines.tree.largestOf(column.name, depth) : 0}
          />
        );
      })}
    </div>
  );
};

interface CellProps {
  column: SketchColumn;
  /** Undefined until it has been fetched. */
  value: WireValue | undefined;
  field: TableLine['fields'][number] | undefined;
  isGroup: boolean;
  isBold: boolean;
  isRight: boolean;
  left: number | null;
  ground: string;
  /** Of the numbers beside it; 0 without bars. */
  largest: number;
}

const colorOf = ({ highlights = [] }: SketchColumn, value: number): string | undefined => {
  let color: string | undefined;
  for (const one of highlights) if (one.is === 'less' ? value < one.to : value > one.to) ({ color } = one);
  return color;
};

const Cell = memo(({ column, value, field, isGroup, isBold, isRight, left, ground, largest }: CellProps) => {
  const { sketch } = useParts();
  const number = isRight && value !== null && value !== undefined ? Number(value) : Number.NaN;
  // What is added up over others would nearly always be above a limit that is meant for one of them.
  const color = Number.isFinite(number) && !isBold ? colorOf(column, number) : undefined;
  const format = shownFormat(column, isGroup ? sketchTotal(column, false) : null, field);
  const share = largest > 0 && Number.isFinite(number) ? Math.min(1, Math.abs(number) / largest) : 0;
  return (
    <div
      role="gridcell"
      className={`flex min-w-0 items-center gap-1.5 px-2.5 ${isRight ? 'justify-end' : ''} ${isBold ? 'font-semibold' : ''} ${left === null ? '' : `sticky z-[1] ${ground}`}`}
      style={left === null ? undefined : { insetInlineStart: left }}
    >
      {share > 0 && (
        <span aria-hidden className="flex min-w-0 flex-1 justify-end">
          <span
            className={`h-2 ${number < 0 ? 'bg-rust-soft' : 'bg-pine-soft'}`}
            style={{ width: `${share * 100}%` }}
          />
        </span>
      )}
      {value === undefined ? (
        <span className="h-2 w-12 rounded bg-rule-soft" />
      ) : (
        <bdi className="truncate" style={color === undefined ? undefined : { color, fontWeight: 600 }}>
          {valueText(value, field, sketch, format)}
        </bdi>
      )}
    </div>
  );
});

/** Totals of everything; stays at the bottom while lines scroll behind it. */
export const EndRow = ({ end, look }: { end: EndLine; look: LineLook }) => {
  const { t } = useTranslation();
  const { sketch } = useParts();
  const shown = look.columns.map((column) => end.fields.findIndex(({ name }) => name === column.name));
  if (shown.every((at) => at < 0)) return null;
  return (
    <div
      role="row"
      data-line="end"
      className="sticky bottom-0 z-10 grid h-8 border-t border-ink bg-sheet font-semibold"
      style={{ gridTemplateColumns: look.template }}
    >
      {look.hasGroups && (
        <div role="rowheader" className="sticky start-0 z-[1] flex items-center bg-sheet ps-3">
          {t('sketch.all')}
        </div>
      )}
      {look.columns.map((column, i) => {
        const at = shown[i]!;
        const left = look.lefts[i]!;
        return (
          <div
            key={column.name}
            role="gridcell"
            className={`flex min-w-0 items-center px-2.5 ${look.isRight[i] ? 'justify-end' : ''} ${left === null ? '' : 'sticky z-[1] bg-sheet'}`}
            style={left === null ? undefined : { insetInlineStart: left }}
          >
            <bdi className="truncate">
              {at < 0
                ? ''
                : valueText(
                    end.line[at] ?? null,
                    end.fields[at],
                    sketch,
                    shownFormat(column, sketchTotal(column, true), end.fields[at]),
                  )}
            </bdi>
          </div>
        );
      })}
    </div>
  );
};
