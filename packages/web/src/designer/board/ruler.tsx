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
            className={`absolute bottom-0 border-l border-ink-3/50 ${mm % 10 === 0 ? 'h-[6px]' : 'h-[3px]'}`}
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
