import { type BoardBand, type Report, sameBand, spineBars } from '@gaveta/core';
import { useTranslation } from 'react-i18next';
import { useDesigner } from './state.ts';
import { bandLabel, drawerBandLabel, drawerLabel } from './words.ts';

export const SPINE_WIDTH = 132;
const INDENT = 12;

/** One bar for each drawer, nested by indent, and the names of bands at their own height. */
export const Spine = ({ report, bands, scale }: { report: Report; bands: readonly BoardBand[]; scale: number }) => {
  const { t } = useTranslation();
  const selected = useDesigner((s) => s.band);
  const { select } = useDesigner.getState();
  return (
    <div className="absolute top-7 left-0 text-[11px] leading-tight" style={{ width: SPINE_WIDTH }}>
      {spineBars(report, bands).map(({ drawer, depth, top, bottom }) => (
        <div
          key={drawer.id}
          aria-hidden
          title={drawerLabel(drawer)}
          className="absolute w-[10px] rounded-l-[5px] border border-r-0 border-brass bg-brass-soft"
          style={{ left: 8 + depth * INDENT, top: top * scale + 1, height: (bottom - top) * scale - 2 }}
        />
      ))}
      {bands.map((band, i) => {
        const { address, drawer, top, height } = band;
        const isSelected = selected !== null && sameBand(selected, address);
        // A drawer is named where its bands begin.
        const isFirst = drawer !== null && bands[i - 1]?.drawer?.id !== drawer.id;
        return (
          <button
            key={band.key}
            type="button"
            aria-pressed={isSelected}
            aria-label={t('designer.band', { name: bandLabel(t, address, drawer) })}
            className={`absolute right-2 overflow-hidden rounded px-1 text-right hover:bg-paper/60 ${isSelected ? 'font-semibold text-pine' : 'text-ink-2'}`}
            style={{ top: top * scale, maxHeight: Math.max(14, height * scale) }}
            onPointerDown={(event) => event.stopPropagation()}
            onClick={() => select([], address)}
          >
            {drawer === null || address.drawer === null ? (
              <b className="font-semibold">{bandLabel(t, address, drawer)}</b>
            ) : (
              <>
                {isFirst && (
                  <b className={`font-semibold ${isSelected ? 'text-pine' : 'text-ink'}`}>{drawerLabel(drawer)} </b>
                )}
                {drawerBandLabel(t, address)}
              </>
            )}
          </button>
        );
      })}
    </div>
  );
};
