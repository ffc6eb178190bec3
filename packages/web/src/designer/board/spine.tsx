import {
  type BandAddress,
  type BoardBand,
  type BoardDrawer,
  bandKey,
  type Report,
  sameBand,
} from '@gaveta/core/internal';
import { Plus } from 'lucide-react';
import { ContextMenu } from 'radix-ui';
import { memo } from 'react';
import { useTranslation } from '../../i18n/use-translation.ts';
import { openAdd } from '../design/overlay.ts';
import { useDesigner } from '../design/state.ts';
import { bandLabel, drawerBandLabel, drawerLabel, nameLabel } from '../design/words.ts';
import { BandMenu } from '../drawer/band-menu.tsx';
import { pressBar } from '../drawer/drag-drawer.ts';

export const SPINE_WIDTH = 150;
/** Space from the edge to the first bar, from one bar to the next, and what all bars together may take, in CSS pixels. */
const EDGE = 6;
const INDENT = 12;
const MOST_BARS = 54;

interface SpineProps {
  report: Report;
  bands: readonly BoardBand[];
  drawers: readonly BoardDrawer[];
  scale: number;
  /** Where the page starts, in CSS pixels. */
  top: number;
}

const isFirstOf = (bands: readonly BoardBand[], i: number): boolean =>
  bands.findIndex((b) => b.drawer === bands[i]!.drawer) === i;

/** Height of a name, in CSS pixels. */
const NAME = 13;

/** Where the names of bands stand: at their band, or right below the name before where bands are low or side by side. */
const nameTops = (bands: readonly BoardBand[], scale: number): ReadonlyMap<BoardBand, number> => {
  const tops = new Map<BoardBand, number>();
  let free = 0;
  for (const band of [...bands].sort((a, b) => a.top - b.top)) {
    const at = Math.max(band.top * scale, free);
    free = at + NAME;
    tops.set(band, at);
  }
  return tops;
};

/** How many bars stand before that of a drawer. */
const barsBefore = ({ depth, side }: BoardDrawer): number => depth + side;

/** One bar for each drawer, nested by indent, and the names of bands at their own height. */
export const Spine = ({ report, bands, drawers, scale, top }: SpineProps) => {
  const { t } = useTranslation();
  const focus = useDesigner((s) => s.focus);
  const tops = nameTops(bands, scale);
  const most = Math.max(0, ...drawers.map(barsBefore)) + 1;
  const indent = Math.min(INDENT, MOST_BARS / most);
  /** What the bars at a band take: those of its drawer and of all around it, and those beside it. */
  const barsAt = (band: BoardBand): number =>
    Math.max(
      0,
      ...drawers
        .filter((at) => at.top < band.top + band.height && at.bottom > band.top)
        .map((at) => barsBefore(at) + 1),
    ) * indent;
  return (
    <div data-own-press className="absolute left-0 text-[11px] leading-tight" style={{ top, width: SPINE_WIDTH }}>
      {drawers.map((at) => {
        const { drawer } = at;
        const isSelected = focus.kind === 'drawer' && focus.drawer === drawer.id;
        return (
          <button
            key={drawer.id}
            type="button"
            tabIndex={-1}
            data-bar={drawer.id}
            aria-label={t('drawer.bar', { name: drawerLabel(drawer) })}
            title={t('drawer.barHelp', { name: drawerLabel(drawer) })}
            className={`absolute cursor-grab touch-none rounded-s-[5px] border border-e-0 border-brass ${isSelected ? 'bg-brass' : 'bg-brass-soft'}`}
            style={{
              left: EDGE + barsBefore(at) * indent,
              width: indent - 2,
              top: at.top * scale + 1,
              height: Math.max(8, (at.bottom - at.top) * scale - 2),
            }}
            onPointerDown={(event) => {
              if (event.button === 0) pressBar(event, { t, report, drawers, scale, drawer });
            }}
          />
        );
      })}
      {bands.map((band, i) => (
        <BandName
          key={band.key}
          address={band.address}
          name={bandLabel(t, band.address, band.drawer)}
          // Below inner drawers it is told again whose band it is.
          owner={
            band.drawer && i > 0 && bands[i - 1]!.drawer !== band.drawer && !isFirstOf(bands, i)
              ? band.drawer.name
              : null
          }
          left={EDGE + barsAt(band)}
          top={tops.get(band)!}
          height={band.height * scale}
        />
      ))}
    </div>
  );
};

interface NameProps {
  address: BandAddress;
  name: string;
  /** Name of its drawer, where that has to be told. */
  owner: string | null;
  /** In CSS pixels. */
  left: number;
  top: number;
  height: number;
}

/** The name of a band at its own height, with its menu and a way to add there. */
const BandName = memo(
  ({ address, name, owner, left, top, height }: NameProps) => {
    const { t } = useTranslation();
    const isSelected = useDesigner((s) => s.focus.kind !== 'drawer' && s.band !== null && sameBand(s.band, address));
    const { focusOn, fold } = useDesigner.getState();
    return (
      <div className="group/band absolute right-2 flex items-start justify-end gap-0.5" style={{ top, left }}>
        <ContextMenu.Root>
          <ContextMenu.Trigger asChild>
            <button
              type="button"
              aria-pressed={isSelected}
              aria-label={t('designer.band', { name })}
              title={t('drawer.bandHelp')}
              className={`min-w-0 overflow-hidden rounded px-1 text-end text-ellipsis whitespace-nowrap hover:bg-paper/60 ${isSelected ? 'font-semibold text-pine' : 'text-ink-2'}`}
              style={{ maxHeight: Math.max(NAME, height) }}
              onClick={() => focusOn({ kind: 'band', band: address })}
              onDoubleClick={() => fold(bandKey(address))}
            >
              {address.drawer === null ? (
                <b className="font-semibold">{name}</b>
              ) : (
                <>
                  {owner !== null && <b className="font-semibold">{nameLabel(owner)} </b>}
                  {drawerBandLabel(t, address)}
                </>
              )}
            </button>
          </ContextMenu.Trigger>
          <BandMenu address={address} name={name} />
        </ContextMenu.Root>
        <button
          type="button"
          tabIndex={-1}
          aria-label={t('drawer.addHere', { name })}
          title={t('drawer.addHere', { name })}
          className={`grid size-[13px] flex-none place-items-center rounded-full bg-pine text-on-accent opacity-0 group-hover/band:opacity-100 focus-visible:opacity-100 ${isSelected ? 'opacity-100' : ''}`}
          onClick={(event) => {
            focusOn({ kind: 'band', band: address });
            openAdd({ x: event.clientX, y: event.clientY });
          }}
        >
          <Plus size={10} aria-hidden />
        </button>
      </div>
    );
  },
  (a, b) =>
    sameBand(a.address, b.address) &&
    a.name === b.name &&
    a.owner === b.owner &&
    a.left === b.left &&
    a.top === b.top &&
    a.height === b.height,
);
