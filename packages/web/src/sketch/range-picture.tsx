import { type PointerEvent, useRef, useState } from 'react';
import { useTranslation } from '../i18n/use-translation.ts';

interface Props {
  /** Rows in ranges of one width between the two ends. */
  bins: readonly number[];
  least: string;
  most: string;
  isNumber: boolean;
  /** What is kept; empty at an end that is open. */
  from: string;
  to: string;
  show: (value: string) => string;
  onRange: (from: string, to: string) => void;
}

const WIDTH = 260;
const HEIGHT = 56;

const placeOf = (value: string, isNumber: boolean): number =>
  isNumber ? Number(value) : Date.parse(value.slice(0, 10));

/** How rows lie between the least and the greatest value; dragging across keeps those between. */
export const RangePicture = ({ bins, least, most, isNumber, from, to, show, onRange }: Props) => {
  const { t } = useTranslation();
  const picture = useRef<SVGSVGElement>(null);
  const [drag, setDrag] = useState<[number, number] | null>(null);
  const [lo, hi] = [placeOf(least, isNumber), placeOf(most, isNumber)];
  const highest = Math.max(1, ...bins);
  const share = (value: string, open: number): number =>
    value === '' ? open : Math.min(1, Math.max(0, (placeOf(value, isNumber) - lo) / (hi - lo || 1)));
  const kept = drag ?? [share(from, 0), share(to, 1)];
  const [start, end] = kept[0] <= kept[1] ? kept : [kept[1], kept[0]];
  const shareAt = (event: PointerEvent): number => {
    const { left, width } = picture.current!.getBoundingClientRect();
    return Math.min(1, Math.max(0, (event.clientX - left) / width));
  };
  const valueAt = (at: number): string => {
    const value = lo + (hi - lo) * at;
    if (!isNumber) return new Date(Math.round(value)).toISOString().slice(0, 10);
    // As coarse as the picture is.
    const step = 10 ** Math.floor(Math.log10(Math.max((hi - lo) / 100, 1e-9)));
    const digits = Math.max(0, -Math.log10(step));
    return String(Number((Math.round(value / step) * step).toFixed(Math.min(12, digits))));
  };
  const width = WIDTH / bins.length;
  return (
    <div>
      <svg
        ref={picture}
        role="img"
        aria-label={t('sketch.spread', { from: show(least), to: show(most) })}
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        className="block h-14 w-full touch-none cursor-crosshair"
        preserveAspectRatio="none"
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          const at = shareAt(event);
          setDrag([at, at]);
        }}
        onPointerMove={(event) => drag && setDrag([drag[0], shareAt(event)])}
        onPointerUp={() => {
          if (!drag) return;
          setDrag(null);
          if (Math.abs(drag[1] - drag[0]) < 0.01) onRange('', '');
          else onRange(start <= 0 ? '' : valueAt(start), end >= 1 ? '' : valueAt(end));
        }}
        onPointerCancel={() => setDrag(null)}
      >
        <rect x={start * WIDTH} width={(end - start) * WIDTH} y={0} height={HEIGHT} className="fill-pine-soft" />
        {bins.map((count, i) => {
          const middle = (i + 0.5) / bins.length;
          const height = count === 0 ? 0 : Math.max(1.5, (count / highest) * (HEIGHT - 4));
          return (
            <rect
              // biome-ignore lint/suspicious/noArrayIndexKey: ranges are told apart by their place
              key={i}
              x={i * width + 0.5}
              width={Math.max(0.5, width - 1)}
              y={HEIGHT - height}
              height={height}
              className={middle >= start && middle <= end ? 'fill-pine' : 'fill-rule'}
            />
          );
        })}
        <line x1={0} x2={WIDTH} y1={HEIGHT - 0.5} y2={HEIGHT - 0.5} className="stroke-ink-3" />
      </svg>
      <div className="flex justify-between text-[11px] text-ink-3">
        <span>{show(least)}</span>
        <span>{show(most)}</span>
      </div>
    </div>
  );
};
