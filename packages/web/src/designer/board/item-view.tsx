import { checkShape, FLAT_CODES, type Item, type Style } from '@gaveta/core';
import { Barcode, Lock, QrCode } from 'lucide-react';
import { type CSSProperties, memo, type PointerEvent } from 'react';
import { useTranslation } from 'react-i18next';
import { useDesigner } from '../state.ts';
import { itemLabel, pieceWords } from '../words.ts';
import { focusFormula } from './focus.ts';
import { useGesture } from './gesture.ts';
import type { Handle } from './hand.ts';
import { frameLook, lookOf, textLook } from './looks.ts';
import { TextEditor } from './text-editor.tsx';

interface ItemProps {
  item: Item;
  styles: Readonly<Record<string, Style>>;
  /** CSS pixels for a millimetre. */
  scale: number;
  /** Width of the band, in millimetres. */
  room: number;
  selected: boolean;
  handles: boolean;
  onPress: (event: PointerEvent, id: string) => void;
  onHandle: (event: PointerEvent, handle: Handle) => void;
}

const HANDLES: readonly Handle[] = ['nw', 'n', 'ne', 'e', 'se', 's', 'sw', 'w'];

export const ItemView = memo(({ item, styles, scale, room, selected, handles, onPress, onHandle }: ItemProps) => {
  const { t } = useTranslation();
  const editing = useDesigner((s) => s.editing === item.id);
  const reportNames = useDesigner((s) => s.reportNames);
  const nudge = useGesture((s) => (s.ids.has(item.id) ? s.nudge : s.mates.has(item.id) ? s.mateNudge : null));
  const { startEditing } = useDesigner.getState();
  const { dx, dy, dw, dh } = nudge ?? { dx: 0, dy: 0, dw: 0, dh: 0 };
  const { share } = item;
  const x = share?.x === undefined ? item.x : (share.x * room) / 100;
  const width = share?.width === undefined ? item.width : (share.width * room) / 100;
  const style: CSSProperties = {
    left: x * scale,
    top: item.y * scale,
    // Moved without laying the board out again.
    transform: nudge ? `translate(${dx * scale}px, ${dy * scale}px)` : undefined,
    width: Math.max(1, width + dw) * scale,
    height: Math.max(item.kind === 'line' ? 0 : 1, item.height + dh) * scale,
  };
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: a button, which cannot be one as it holds handles; the board has the focus
    // biome-ignore lint/a11y/useAriaPropsSupportedByRole: it has a role, of a button or of the group around its editor
    <div
      role={editing ? 'group' : 'button'}
      aria-label={itemLabel(t, item, reportNames)}
      aria-pressed={editing ? undefined : selected}
      data-item={item.id}
      data-own-press
      className={`group absolute cursor-default select-none ${selected ? 'z-10 outline-2 outline-pine' : 'hover:outline hover:outline-pine/50'}`}
      style={style}
      onPointerDown={(event) => onPress(event, item.id)}
      onDoubleClick={() => {
        if (item.kind === 'text') startEditing(item.id);
        else focusFormula();
      }}
    >
      {editing && item.kind === 'text' ? (
        <TextEditor item={item} styles={styles} scale={scale} />
      ) : (
        <Inside item={item} styles={styles} scale={scale} />
      )}
      {item.kind === 'line' && <div className="absolute -inset-y-1.5 inset-x-0" />}
      {selected && item.locked && (
        <Lock size={11} aria-label={t('place.locked')} className="absolute -top-3 -right-1 text-pine" />
      )}
      {handles &&
        !editing &&
        !item.locked &&
        HANDLES.filter((h) => item.kind !== 'line' || item.height > 0 || h === 'e' || h === 'w').map((handle) => (
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

const FITS = { whole: 'object-contain', fill: 'object-cover', stretch: 'object-fill', real: 'object-none' } as const;

const Inside = ({ item, styles, scale }: { item: Item; styles: Readonly<Record<string, Style>>; scale: number }) => {
  const { t } = useTranslation();
  const reportNames = useDesigner((s) => s.reportNames);
  switch (item.kind) {
    case 'text': {
      const look = lookOf(styles, item);
      return (
        <div className="size-full overflow-hidden" style={{ ...textLook(look, scale), ...frameLook(look, scale) }}>
          <div className="whitespace-pre-wrap">
            {item.content.map((piece, i) =>
              typeof piece === 'string' ? (
                piece
              ) : (
                <span
                  // biome-ignore lint/suspicious/noArrayIndexKey: pieces have no other identity
                  key={i}
                  className={'formula' in piece ? 'rounded-sm bg-pine-soft/80 text-chip' : undefined}
                  style={piece.look && textLook({ ...look, ...piece.look }, scale)}
                >
                  {pieceWords(piece)}
                </span>
              ),
            )}
          </div>
        </div>
      );
    }
    case 'field': {
      const look = lookOf(styles, item);
      return (
        <div
          className="size-full overflow-hidden whitespace-nowrap"
          style={{ ...textLook(look, scale), ...frameLook(look, scale) }}
        >
          <span className={`block ${look.background ? '' : 'min-h-full bg-pine-soft/60'}`}>{item.formula}</span>
        </div>
      );
    }
    case 'picture':
      return item.source ? (
        <img src={item.source} alt={item.alternative} className={`size-full ${FITS[item.fit]}`} draggable={false} />
      ) : (
        <div className="grid size-full place-items-center overflow-hidden border border-rule bg-brass-soft/40 text-[11px] text-ink-3">
          {item.formula || item.alternative || t('kinds.picture')}
        </div>
      );
    case 'barcode': {
      const Bars = FLAT_CODES.has(item.code) ? Barcode : QrCode;
      return (
        <div className="relative size-full overflow-hidden" style={{ color: item.color }}>
          <Bars
            aria-hidden
            size="100%"
            strokeWidth={1.6}
            preserveAspectRatio={Bars === Barcode ? 'none' : 'xMidYMid meet'}
            className="opacity-60"
          />
          <span className="absolute inset-x-0 bottom-0 truncate bg-pine-soft/90 px-0.5 text-center text-[10px] text-chip">
            {item.formula}
          </span>
        </div>
      );
    }
    case 'check':
      return (
        <div className="grid size-full place-items-center overflow-hidden" style={{ color: item.color }}>
          {/* biome-ignore lint/a11y/noSvgWithoutTitle: the item around it has a name */}
          <svg viewBox="0 0 24 24" aria-hidden className="size-full">
            <path
              d={checkShape(item.sign, item.frame !== false)
                .map((polygon) => `M${polygon.join(' ')}Z`)
                .join('')}
              fill="currentColor"
              fillRule="evenodd"
            />
          </svg>
        </div>
      );
    case 'line':
      return item.height > 0 ? (
        <div
          className="absolute top-0 left-0 origin-left"
          style={{
            width: Math.hypot(item.width, item.height) * scale,
            borderTop: `${Math.max(1, item.thickness * scale)}px ${item.dash} ${item.color}`,
            transform: `rotate(${Math.atan2(item.height, item.width)}rad)`,
          }}
        />
      ) : (
        <div style={{ borderTop: `${Math.max(1, item.thickness * scale)}px ${item.dash} ${item.color}` }} />
      );
    case 'rectangle':
      return (
        <div
          className={`size-full ${item.fill || item.stroke ? '' : 'border border-dashed border-rule'}`}
          style={{
            background: item.fill,
            border: item.stroke && `${Math.max(1, item.thickness * scale)}px ${item.dash ?? 'solid'} ${item.stroke}`,
            borderRadius: item.radius * scale,
            opacity: item.opacity,
          }}
        />
      );
    case 'subreport':
      return (
        <div className="size-full overflow-hidden border border-brass bg-brass-soft/30 p-1 text-[11px] text-ink-2">
          <b>{t('kinds.subreport')}</b> {reportNames[item.report] ?? t('subreport.choose')}
        </div>
      );
    default:
      return item satisfies never;
  }
};
