import { blankWord, type SketchColumn, shownFormat, sketchTotal, type WireValue } from '@gaveta/core/internal';
import { ChevronDown, ChevronRight } from 'lucide-react';
import { memo } from 'react';
import { useTranslation } from '../i18n/use-translation.ts';
import type { AcrossCells } from './across-cells.ts';
import type { EndLine } from './asked-lines.ts';
import type { TableLine } from './line-tree.ts';
import { useParts } from './parts.ts';
import { type CellLook, gridColumn, type LineLook } from './table-layout.ts';
import type { SketchLines } from './use-lines.ts';
import { valueText } from './words.ts';

/** Height of a line, in CSS pixels. */
export const ROW = 28;

interface Props {
  line: TableLine;
  /** Its place; negative for one that stays at the top. */
  index: number;
  look: LineLook;
  lines: SketchLines;
  across: AcrossCells;
  isActive: boolean;
  onTurn: (line: TableLine) => void;
}

/** Of groups that hold others, by depth; opaque, since lines scroll behind those that stay. */
const GROUND = ['bg-[color-mix(in_srgb,var(--color-brass-soft)_50%,var(--color-paper))]', 'bg-sheet', 'bg-sheet'];

/** One group with its totals, or one row. */
export const Line = ({ line, index, look, lines, across, isActive, onTurn }: Props) => {
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
      {look.drawn.map((i) => {
        const cell = look.cells[i]!;
        const { column, over } = cell;
        const shown = over ? across.fields : fields;
        const from = over ? across.at(line.at, over.key) : values;
        const at = shown.findIndex(({ name }) => name === column.name);
        const largest = over ? across.largestOf(column.name, depth) : lines.tree.largestOf(column.name, depth);
        return (
          <Cell
            key={i}
            cell={cell}
            place={gridColumn(look, i)}
            value={values === null ? undefined : at < 0 ? null : (from?.[at] ?? null)}
            field={shown[at]}
            isGroup={isGroup}
            isBold={isInner || (sketch.across !== undefined && over === null)}
            isInner={isInner}
            ground={ground}
            largest={column.bars ? largest : 0}
          />
        );
      })}
    </div>
  );
};

interface CellProps {
  cell: CellLook;
  /** In the grid of its line, from 1. */
  place: number;
  /** Undefined until it has been fetched. */
  value: WireValue | undefined;
  field: TableLine['fields'][number] | undefined;
  isGroup: boolean;
  isBold: boolean;
  /** On the line of a group that holds others. */
  isInner: boolean;
  ground: string;
  /** Of the numbers beside it; 0 without bars. */
  largest: number;
}

const colorOf = ({ highlights = [] }: SketchColumn, value: number): string | undefined => {
  let color: string | undefined;
  for (const one of highlights) if (one.is === 'less' ? value < one.to : value > one.to) ({ color } = one);
  return color;
};

const Cell = memo(({ cell, place, value, field, isGroup, isBold, isInner, ground, largest }: CellProps) => {
  const { sketch } = useParts();
  const { column, isRight, left } = cell;
  const number = isRight && value !== null && value !== undefined ? Number(value) : Number.NaN;
  // What is added up over others would nearly always be above a limit that is meant for one of them.
  const color = Number.isFinite(number) && !isInner ? colorOf(column, number) : undefined;
  const format = shownFormat(column, isGroup ? sketchTotal(column, false) : null, field);
  const share = largest > 0 && Number.isFinite(number) ? Math.min(1, Math.abs(number) / largest) : 0;
  return (
    <div
      role="gridcell"
      className={`flex min-w-0 items-center gap-1.5 px-2.5 ${isRight ? 'justify-end' : ''} ${isBold ? 'font-semibold' : ''} ${left === null ? '' : `sticky z-[1] ${ground}`}`}
      style={left === null ? { gridColumn: place } : { gridColumn: place, insetInlineStart: left }}
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
export const EndRow = ({ end, look, across }: { end: EndLine; look: LineLook; across: AcrossCells }) => {
  const { t } = useTranslation();
  const { sketch } = useParts();
  const hasTotals = look.cells.some(({ column }) => end.fields.some(({ name }) => name === column.name));
  if (!hasTotals) return null;
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
      {look.drawn.map((i) => {
        const { column, over, left, isRight } = look.cells[i]!;
        const fields = over ? across.fields : end.fields;
        const line = over ? across.at([], over.key) : end.line;
        const at = fields.findIndex(({ name }) => name === column.name);
        const format = shownFormat(column, sketchTotal(column, !sketch.across), fields[at]);
        return (
          <div
            key={i}
            role="gridcell"
            className={`flex min-w-0 items-center px-2.5 ${isRight ? 'justify-end' : ''} ${left === null ? '' : 'sticky z-[1] bg-sheet'}`}
            style={{ gridColumn: gridColumn(look, i), ...(left === null ? {} : { insetInlineStart: left }) }}
          >
            <bdi className="truncate">{at < 0 ? '' : valueText(line?.[at] ?? null, fields[at], sketch, format)}</bdi>
          </div>
        );
      })}
    </div>
  );
};
