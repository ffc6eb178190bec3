import { memo } from 'react';

interface RulerProps {
  /** Where the page starts, in CSS pixels. */
  left: number;
  /** Left margin, which zero stands at, and width of the paper. */
  margin: number;
  width: number;
  scale: number;
}

/** Centimetres above the page, from the left margin. */
export const Ruler = memo(({ left, margin, width, scale }: RulerProps) => {
  const first = Math.ceil(-margin / 5) * 5;
  const ticks: number[] = [];
  for (let mm = first; mm <= width - margin; mm += 5) ticks.push(mm);
  return (
    <div aria-hidden className="sticky top-0 z-20 h-0">
      <div className="absolute top-0 h-[18px] bg-desk" style={{ left, width: width * scale }}>
        {ticks.map((mm) => (
          <span
            key={mm}
            className={`absolute bottom-0 border-s border-ink-3/50 ${mm % 10 === 0 ? 'h-[6px]' : 'h-[3px]'}`}
            style={{ left: (margin + mm) * scale }}
          >
            {mm % (scale < 2 ? 20 : 10) === 0 && mm >= 0 && (
              <span className="absolute -top-[11px] left-[2px] text-[9px] leading-none text-ink-2">{mm / 10}</span>
            )}
          </span>
        ))}
      </div>
    </div>
  );
});

interface BandRulerProps {
  /** In millimetres. */
  height: number;
  scale: number;
}

/** Centimetres down a band, at the left edge of the page; each band begins at zero. */
export const BandRuler = memo(({ height, scale }: BandRulerProps) => {
  const ticks: number[] = [];
  for (let mm = 5; mm < height; mm += 5) ticks.push(mm);
  return (
    <div aria-hidden className="pointer-events-none absolute inset-y-0 left-0">
      {ticks.map((mm) => (
        <span
          key={mm}
          className={`absolute left-0 border-t border-ink-3/50 ${mm % 10 === 0 ? 'w-[6px]' : 'w-[3px]'}`}
          style={{ top: mm * scale }}
        >
          {mm % 10 === 0 && scale >= 2 && (
            <span className="absolute -top-[4px] left-[8px] text-[9px] leading-none text-ink-2">{mm / 10}</span>
          )}
        </span>
      ))}
    </div>
  );
});
