import { type BoardBand, type BoardDrawer, type Report, sameBand } from '@gaveta/core';
import { Plus } from 'lucide-react';
import { ContextMenu } from 'radix-ui';
import { useTranslation } from 'react-i18next';
import { openAdd } from '../commands/overlay.ts';
import { BandMenu } from '../drawer/band-menu.tsx';
import { pressBar } from '../drawer/drag-drawer.ts';
import { useDesigner } from '../state.ts';
import { bandLabel, drawerBandLabel, drawerLabel } from '../words.ts';

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

/** One bar for each drawer, nested by indent, and the names of bands at their own height. */
export const Spine = ({ report, bands, drawers, scale, top }: SpineProps) => {
  const { t } = useTranslation();
  const selected = useDesigner((s) => s.band);
  const focus = useDesigner((s) => s.focus);
  const { focusOn, fold } = useDesigner.getState();
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
            className={`absolute w-[10px] cursor-grab touch-none rounded-l-[5px] border border-r-0 border-brass ${isSelected ? 'bg-brass' : 'bg-brass-soft'}`}
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
      {bands.map((band, i) => {
        const { address, drawer, top: bandTop, height } = band;
        const isSelected = selected !== null && sameBand(selected, address) && focus.kind !== 'drawer';
        const name = bandLabel(t, address, drawer);
        // Below inner drawers it is told again whose band it is.
        const goesOn = drawer !== null && i > 0 && bands[i - 1]!.drawer !== drawer && !isFirstOf(bands, i);
        return (
          <div
            key={band.key}
            className="group/band absolute right-2 flex items-start justify-end gap-0.5"
            style={{ top: bandTop * scale, left: 6 }}
          >
            <ContextMenu.Root>
              <ContextMenu.Trigger asChild>
                <button
                  type="button"
                  aria-pressed={isSelected}
                  aria-label={t('designer.band', { name })}
                  title={t('drawer.bandHelp')}
                  className={`max-w-[104px] overflow-hidden rounded px-1 text-right text-ellipsis whitespace-nowrap hover:bg-paper/60 ${isSelected ? 'font-semibold text-pine' : 'text-ink-2'}`}
                  style={{ maxHeight: Math.max(13, height * scale) }}
                  onClick={() => focusOn({ kind: 'band', band: address })}
                  onDoubleClick={() => fold(band.key)}
                >
                  {drawer === null || address.drawer === null ? (
                    <b className="font-semibold">{name}</b>
                  ) : (
                    <>
                      {goesOn && <b className="font-semibold">{drawerLabel(drawer)} </b>}
                      {drawerBandLabel(t, address)}
                    </>
                  )}
                </button>
              </ContextMenu.Trigger>
              <BandMenu report={report} address={address} />
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
      })}
    </div>
  );
};
