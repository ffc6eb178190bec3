import { MILLIMETRES, type Report, type SvgPage } from '@gaveta/core/internal';
import { memo, type ReactNode, useCallback, useMemo } from 'react';
import { useTranslation } from '../../i18n/use-translation.ts';
import type { Live } from '../../live/use-live.ts';
import { useGesture } from '../design/gesture.ts';
import { useWheelZoom } from '../design/zoom.ts';
import { ZoomSteps } from '../design/zoom-steps.tsx';
import { LiveLanguage } from '../languages/live-language.tsx';
import { LivePage, type PageHands } from './live-page.tsx';
import { fitLive, useLiveState, zoomLiveBy } from './live-state.ts';
import { pageOfSurface } from './live-surface.ts';
import { SheetHands } from './sheet-hands.tsx';
import { useLiveHands } from './use-live-hands.ts';

interface Props {
  live: Live;
  report: Report;
  more: ReactNode;
}

/** The live page as a maker has it in hands: what is selected, moved, resized and dropped there changes the report. */
export const HandsOnLive = memo(({ live, report, more }: Props) => {
  const { t } = useTranslation();
  const hands = useLiveHands(live, report);
  const { outer, onPointerDown, onPointerMove, onPointerLeave, onDoubleClick, onKeyDown } = hands;
  useWheelZoom(outer, zoomLiveBy);
  const over = useCallback(
    (page: SvgPage, number: number) => <SheetHands page={page} number={number} live={live} hands={hands} />,
    [live, hands],
  );
  const page = useMemo(
    (): PageHands => ({
      outer,
      handlers: { onPointerDown, onPointerMove, onPointerLeave, onDoubleClick, onKeyDown },
      over,
    }),
    [outer, onPointerDown, onPointerMove, onPointerLeave, onDoubleClick, onKeyDown, over],
  );
  const zoom = useLiveState((s) => s.shownZoom);
  return (
    <>
      <Moves />
      <LivePage
        live={live}
        hands={page}
        more={
          <>
            <LiveLanguage live={live} report={report} />
            <ZoomSteps
              label={t('board.zoomLive')}
              zoom={zoom}
              onZoom={zoomLiveBy}
              onFit={fitLive}
              look="hover:bg-desk"
            />
            {more}
          </>
        }
      />
    </>
  );
});

/** Moves every instance of what the hand moves, without laying pages out. */
const Moves = () => {
  const { surface, ids, nudge, mates, mateNudge } = useGesture((s) => s.landed ?? s);
  if (pageOfSurface(surface) === null || !nudge || nudge.dw !== 0 || nudge.dh !== 0) return null;
  // Lengths inside a page are points. Ids hold letters, digits, - and _ only, as the schema checks.
  const rule = (of: ReadonlySet<string>, { dx, dy }: { dx: number; dy: number }): string => {
    if (of.size === 0) return '';
    const marks = [...of].map((id) => `.live-pages [data-item="${id}"]`).join(',');
    return `${marks}{translate:${dx / MILLIMETRES}px ${dy / MILLIMETRES}px}`;
  };
  return <style>{rule(ids, nudge) + (mateNudge ? rule(mates, mateNudge) : '')}</style>;
};
