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

export const SPINE_WIDTH = 138;
const INDENT = 12;

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

/** Where the names of bands stand: at their band, or right below the name before where bands are low. */
const nameTops = (bands: readonly BoardBand[], scale: number): number[] => {
  let free = 0;
  return bands.map(({ top }) => {
    const at = Math.max(top * scale, free);
    free = at + NAME;
    return at;
  });
};

/** One bar for each drawer, nested by indent, and the names of bands at their own height. */
export const Spine = ({ report, bands, drawers, scale, top }: SpineProps) => {
  const { t } = useTranslation();
  const focus = useDesigner((s) => s.focus);
  const tops = nameTops(bands, scale);
  return (
    <div data-own-press className="absolute left-0 text-[11px] leading-tight" style={{ top, width: SPINE_WIDTH }}>
      {drawers.map((at) => {
        const { drawer, depth } = at;
        const isSelected = focus.kind === 'drawer' && focus.drawer === drawer.id;
        return (
          <button
            key={drawer.id}
            type="button"
            tabIndex={-1}
            data-bar={drawer.id}
            aria-label={t('drawer.bar', { name: drawerLabel(drawer) })}
            title={t('drawer.barHelp', { name: drawerLabel(drawer) })}
            className={`absolute w-[10px] cursor-grab touch-none rounded-s-[5px] border border-e-0 border-brass ${isSelected ? 'bg-brass' : 'bg-brass-soft'}`}
            style={{
              left: 6 + depth * INDENT,
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
          top={tops[i]!}
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
  top: number;
  height: number;
}

/** The name of a band at its own height, with its menu and a way to add there. */
const BandName = memo(
  ({ address, name, owner, top, height }: NameProps) => {
    const { t } = useTranslation();
    const isSelected = useDesigner((s) => s.focus.kind !== 'drawer' && s.band !== null && sameBand(s.band, address));
    const { focusOn, fold } = useDesigner.getState();
    return (
      <div className="group/band absolute right-2 flex items-start justify-end gap-0.5" style={{ top, left: 6 }}>
        <ContextMenu.Root>
          <ContextMenu.Trigger asChild>
            <button
              type="button"
              aria-pressed={isSelected}
              aria-label={t('designer.band', { name })}
              title={t('drawer.bandHelp')}
              className={`max-w-[104px] overflow-hidden rounded px-1 text-end text-ellipsis whitespace-nowrap hover:bg-paper/60 ${isSelected ? 'font-semibold text-pine' : 'text-ink-2'}`}
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
    a.top === b.top &&
    a.height === b.height,
);
