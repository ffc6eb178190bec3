import type { SketchAcross } from '@gaveta/core/internal';
import { ArrowDown, ArrowUp } from 'lucide-react';
import { Popover } from 'radix-ui';
import { type CSSProperties, type PointerEvent, type ReactNode, useState } from 'react';
import { useTranslation } from '../i18n/use-translation.ts';
import { useDrag } from '../ui/drag.ts';
import { Panel } from '../ui/panel.tsx';
import { AcrossPanel } from './across-panel.tsx';
import { ColumnPanel } from './column-panel.tsx';
import { GroupPanel } from './group-panel.tsx';
import { useParts } from './parts.ts';
import type { CellLook } from './table-layout.ts';
import { columnLabel, groupLabel } from './words.ts';

/** Narrowest and widest that a column can be dragged, in CSS pixels; one press of a key. */
const NARROWEST = 40;
const WIDEST = 1200;
const STEP = 10;

const Sorted = ({ name }: { name: string }) => {
  const { t } = useTranslation();
  const { sketch } = useParts();
  const own = sketch.order.find(({ by }) => by === name);
  if (!own) return null;
  const Icon = own.descending ? ArrowDown : ArrowUp;
  return (
    <Icon size={13} aria-label={t(own.descending ? 'sketch.descending' : 'sketch.ascending')} className="flex-none" />
  );
};

interface Props {
  cell: CellLook;
  /** In the grid of the head. */
  place: CSSProperties;
  /** The first of its column, where several stand below values across. */
  isFirst: boolean;
  onResize: (width: number) => void;
  /** Null: as wide as it is by itself. */
  onResized: (width: number | null) => void;
}

/** The caption of a column: a press opens what can be done to it, its edge is dragged. */
export const Caption = ({ cell, place, isFirst, onResize, onResized }: Props) => {
  const { column, isRight, left, width } = cell;
  const { t } = useTranslation();
  const { sketch, reach, isReading } = useParts();
  const [open, setOpen] = useState(false);
  const isOver = useDrag((drag) => drag.over === `column ${column.name}`);
  const label = columnLabel(column, reach);
  const own = sketch.order.find(({ by }) => by === column.name);
  const drag = (event: PointerEvent<HTMLDivElement>): void => {
    const { clientX, currentTarget, pointerId } = event;
    const start = currentTarget.parentElement!.getBoundingClientRect().width;
    const sign = getComputedStyle(currentTarget).direction === 'rtl' ? -1 : 1;
    currentTarget.setPointerCapture(pointerId);
    let next = start;
    const move = ({ clientX: x }: globalThis.PointerEvent): void => {
      next = Math.min(WIDEST, Math.max(NARROWEST, start + sign * (x - clientX)));
      onResize(next);
    };
    const end = (): void => {
      currentTarget.removeEventListener('pointermove', move);
      currentTarget.removeEventListener('pointerup', end);
      currentTarget.removeEventListener('pointercancel', end);
      if (next !== start) onResized(next);
    };
    currentTarget.addEventListener('pointermove', move);
    currentTarget.addEventListener('pointerup', end);
    currentTarget.addEventListener('pointercancel', end);
  };
  return (
    <div
      role="columnheader"
      aria-sort={own ? (own.descending ? 'descending' : 'ascending') : undefined}
      data-drop={`column ${column.name}`}
      className={`relative min-w-0 bg-paper ${left === null ? '' : 'sticky z-10'} ${isOver ? 'border-s-2 border-pine' : ''}`}
      style={left === null ? place : { ...place, insetInlineStart: left }}
    >
      <Popover.Root open={open} onOpenChange={setOpen}>
        <Popover.Trigger asChild>
          <button
            type="button"
            data-caption={isFirst ? column.name : undefined}
            className={`flex h-7 w-full items-center gap-1 px-2.5 font-semibold hover:bg-pine-soft/60 ${isRight ? 'justify-end' : ''}`}
          >
            <span className="truncate">{label}</span>
            <Sorted name={column.name} />
          </button>
        </Popover.Trigger>
        <Panel label={label} align={isRight ? 'end' : 'start'} className="w-72 overflow-auto [--panel-height:600px]">
          <ColumnPanel name={column.name} onClose={() => setOpen(false)} />
        </Panel>
      </Popover.Root>
      {!isReading && (
        <div
          role="separator"
          aria-orientation="vertical"
          aria-label={t('app.columnWidth')}
          title={t('app.columnWidth')}
          aria-valuenow={Math.round(width)}
          aria-valuemin={NARROWEST}
          aria-valuemax={WIDEST}
          tabIndex={-1}
          className="absolute inset-y-0 end-0 z-10 w-1.5 touch-none cursor-col-resize hover:bg-brass/40"
          onPointerDown={drag}
          onDoubleClick={() => onResized(null)}
          onKeyDown={({ key }) => {
            if (key === 'ArrowLeft') onResized(Math.max(NARROWEST, width - STEP));
            if (key === 'ArrowRight') onResized(Math.min(WIDEST, width + STEP));
          }}
        />
      )}
    </div>
  );
};

interface GroupCaptionProps {
  name: string;
  label: string;
  children: (close: () => void) => ReactNode;
}

/** The caption of what lines are grouped by, or of what goes across. */
const PressedCaption = ({ name, label, children }: GroupCaptionProps) => {
  const [open, setOpen] = useState(false);
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger asChild>
        <button
          type="button"
          data-caption={name}
          className="inline-flex items-center gap-1 rounded px-0.5 font-semibold hover:bg-pine-soft/60"
        >
          {label}
          <Sorted name={name} />
        </button>
      </Popover.Trigger>
      <Panel label={label} align="start" className="w-72 overflow-auto [--panel-height:600px]">
        {children(() => setOpen(false))}
      </Panel>
    </Popover.Root>
  );
};

/** The caption of a group. */
export const GroupCaption = ({ name, label }: { name: string; label: string }) => (
  <PressedCaption name={name} label={label}>
    {(close) => <GroupPanel name={name} onClose={close} />}
  </PressedCaption>
);

/** The caption of what goes across, above its values. */
export const AcrossCaption = ({ across }: { across: SketchAcross }) => {
  const { reach } = useParts();
  return (
    <PressedCaption name={across.name} label={groupLabel(across, reach)}>
      {(close) => <AcrossPanel onClose={close} />}
    </PressedCaption>
  );
};
