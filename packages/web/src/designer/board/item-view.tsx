import type { Item, Style } from '@gaveta/core/internal';
import { Lock } from 'lucide-react';
import { type CSSProperties, memo, type PointerEvent } from 'react';
import { useTranslation } from '../../i18n/use-translation.ts';
import { useGesture } from '../design/gesture.ts';
import { useDesigner } from '../design/state.ts';
import { itemLabel } from '../design/words.ts';
import { roomOfKind } from '../items/rooms.ts';
import { editHere } from './edit-here.ts';
import { HANDLES, type Handle } from './hand.ts';
import { HandleView } from './handle-view.tsx';

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

export const ItemView = memo(({ item, styles, scale, room, selected, handles, onPress, onHandle }: ItemProps) => {
  const { t } = useTranslation();
  const editing = useDesigner((s) => s.editing === item.id && s.editingOn === 'board');
  const reportNames = useDesigner((s) => s.reportNames);
  const nudge = useGesture((s) => (s.ids.has(item.id) ? s.nudge : s.mates.has(item.id) ? s.mateNudge : null));
  const { Board, Editor } = roomOfKind(item.kind);
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
      className={`group absolute cursor-default select-none ${selected ? `outline-2 outline-pine ${item.kind === 'panel' ? '' : 'z-10'}` : 'hover:outline hover:outline-pine/50'}`}
      style={style}
      onPointerDown={(event) => onPress(event, item.id)}
      onDoubleClick={() => editHere(item, 'board')}
    >
      {editing && Editor ? (
        <Editor item={item} styles={styles} scale={scale} />
      ) : (
        <Board item={item} styles={styles} scale={scale} />
      )}
      {item.kind === 'line' && <div className="absolute -inset-y-1 inset-x-0" />}
      {selected && item.locked && (
        <Lock size={11} aria-label={t('place.locked')} className="absolute -top-3 -right-1 text-pine" />
      )}
      {handles &&
        !editing &&
        !item.locked &&
        HANDLES.filter((h) => item.kind !== 'line' || item.height > 0 || h === 'e' || h === 'w').map((handle) => (
          <HandleView key={handle} handle={handle} onPress={onHandle} />
        ))}
    </div>
  );
});
