import { DEFAULT_LOOK, type Item, type Look, type Report, styleLook } from '@gaveta/core';
import { type CSSProperties, memo, type PointerEvent } from 'react';
import { useTranslation } from 'react-i18next';
import type { Handle } from './board.tsx';
import { useDesigner } from './state.ts';
import { TextEditor } from './text-editor.tsx';
import { itemLabel, itemWords, pieceWords } from './words.ts';

/** A change under way, in millimetres. */
export interface Nudge {
  dx: number;
  dy: number;
  dw: number;
  dh: number;
}

interface ItemProps {
  item: Item;
  report: Report;
  /** CSS pixels for a millimetre. */
  scale: number;
  selected: boolean;
  nudge: Nudge | null;
  handles: boolean;
  onPress: (event: PointerEvent) => void;
  onHandle: (event: PointerEvent, handle: Handle) => void;
}

const HANDLES: readonly Handle[] = ['nw', 'n', 'ne', 'e', 'se', 's', 'sw', 'w'];

const MM_PER_POINT = 25.4 / 72;

export const lookOf = (report: Report, item: Item): Look =>
  item.kind === 'text' || item.kind === 'field' ? { ...styleLook(report.styles, item.style), ...item.look } : {};

const textLook = (look: Look, scale: number): CSSProperties => ({
  fontFamily: `'${look.font ?? 'Source Sans 3'}'`,
  fontSize: (look.size ?? DEFAULT_LOOK.size) * MM_PER_POINT * scale,
  fontWeight: look.bold ? 700 : 400,
  fontStyle: look.italic ? 'italic' : 'normal',
  textDecoration: [look.underline && 'underline', look.strike && 'line-through'].filter(Boolean).join(' ') || undefined,
  opacity: look.opacity,
  color: look.color ?? DEFAULT_LOOK.color,
  background: look.background,
  textAlign: look.align ?? DEFAULT_LOOK.align,
  lineHeight: look.spacing ?? DEFAULT_LOOK.spacing,
});

export const ItemView = memo(({ item, report, scale, selected, nudge, handles, onPress, onHandle }: ItemProps) => {
  const { t } = useTranslation();
  const editing = useDesigner((s) => s.editing === item.id);
  const { startEditing } = useDesigner.getState();
  const { dx, dy, dw, dh } = nudge ?? { dx: 0, dy: 0, dw: 0, dh: 0 };
  const style: CSSProperties = {
    left: (item.x + dx) * scale,
    top: (item.y + dy) * scale,
    width: Math.max(1, item.width + dw) * scale,
    height: Math.max(item.kind === 'line' ? 0 : 1, item.height + dh) * scale,
  };
  return (
    // biome-ignore lint/a11y/useSemanticElements: a button cannot hold handles and an editor
    // biome-ignore lint/a11y/useFocusableInteractive: the board holds the focus and moves through its items
    <div
      role="button"
      aria-label={itemLabel(t, item)}
      aria-pressed={selected}
      data-item={item.id}
      className={`group absolute cursor-default select-none ${selected ? 'z-10 outline-2 outline-pine' : 'hover:outline hover:outline-pine/50'}`}
      style={style}
      onPointerDown={onPress}
      onDoubleClick={() => {
        if (item.kind === 'text') startEditing(item.id);
        else document.querySelector<HTMLElement>('[data-setting="formula"]')?.focus();
      }}
    >
      {editing && item.kind === 'text' ? (
        <TextEditor item={item} style={textLook(lookOf(report, item), scale)} />
      ) : (
        <Inside item={item} report={report} scale={scale} />
      )}
      {item.kind === 'line' && <div className="absolute -inset-y-1.5 inset-x-0" />}
      {handles &&
        !editing &&
        HANDLES.filter((h) => item.kind !== 'line' || h === 'e' || h === 'w').map((handle) => (
          <div
            key={handle}
            aria-hidden
            data-handle={handle}
            className="absolute size-[7px] border border-pine bg-white"
            style={{
              left: handle.includes('w') ? -4 : handle.includes('e') ? undefined : 'calc(50% - 3px)',
              right: handle.includes('e') ? -4 : undefined,
              top: handle.includes('n') ? -4 : handle.includes('s') ? undefined : 'calc(50% - 3px)',
              bottom: handle.includes('s') ? -4 : undefined,
              cursor: `${handle}-resize`,
            }}
            onPointerDown={(event) => onHandle(event, handle)}
          />
        ))}
    </div>
  );
});

const Inside = ({ item, report, scale }: { item: Item; report: Report; scale: number }) => {
  const { t } = useTranslation();
  switch (item.kind) {
    case 'text':
      return (
        <div className="size-full overflow-hidden whitespace-pre-wrap" style={textLook(lookOf(report, item), scale)}>
          {item.content.map((piece, i) =>
            typeof piece === 'string' ? (
              piece
            ) : (
              <span
                // biome-ignore lint/suspicious/noArrayIndexKey: pieces have no other identity
                key={i}
                className={'formula' in piece ? 'rounded-sm bg-pine-soft/80 text-[#2b4a43]' : undefined}
                style={piece.look && textLook({ ...lookOf(report, item), ...piece.look }, scale)}
              >
                {pieceWords(piece)}
              </span>
            ),
          )}
        </div>
      );
    case 'field':
      return (
        <div className="size-full overflow-hidden whitespace-nowrap" style={textLook(lookOf(report, item), scale)}>
          <span className="block size-full bg-pine-soft/60">{item.formula}</span>
        </div>
      );
    case 'picture':
      return item.source ? (
        <img src={item.source} alt={item.alternative} className="size-full object-contain" draggable={false} />
      ) : (
        <div className="grid size-full place-items-center overflow-hidden border border-rule bg-brass-soft/40 text-[11px] text-ink-3">
          {itemWords(item)}
        </div>
      );
    case 'line':
      return <div style={{ borderTop: `${Math.max(1, item.thickness * scale)}px ${item.dash} ${item.color}` }} />;
    case 'rectangle':
      return (
        <div
          className="size-full"
          style={{
            background: item.fill,
            border: item.stroke && `${Math.max(1, item.thickness * scale)}px solid ${item.stroke}`,
            borderRadius: item.radius * scale,
          }}
        />
      );
    case 'subreport':
      return (
        <div className="size-full overflow-hidden border border-brass bg-brass-soft/30 p-1 text-[11px] text-ink-2">
          <b>{t('kinds.subreport')}</b> {item.report}
        </div>
      );
    default:
      return item satisfies never;
  }
};
