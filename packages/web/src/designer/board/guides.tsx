import type { Guide } from '@gaveta/core/internal';
import { useGesture } from '../design/gesture.ts';

const NO_GUIDES: readonly Guide[] = [];

/** Lines that show what the dragged item meets, and the rectangle that selects. */
export const Guides = ({ surface, scale }: { surface: string; scale: number }) => {
  const guides = useGesture((s) => (s.surface === surface ? s.guides : NO_GUIDES));
  const marquee = useGesture((s) => (s.surface === surface ? s.marquee : null));
  return (
    <>
      {guides.map(({ along, at, from, to, kind }) => (
        <div
          key={`${along}${at}${from}${kind}`}
          data-guide={kind}
          className={`pointer-events-none absolute z-20 ${kind === 'gap' ? 'border-brass' : 'border-pine'} ${along === 'y' ? 'border-s' : 'border-t'} ${kind === 'gap' ? 'border-2 border-dotted' : ''}`}
          style={
            along === 'y'
              ? { left: at * scale, top: from * scale, height: (to - from) * scale, width: 0 }
              : { top: at * scale, left: from * scale, width: (to - from) * scale, height: 0 }
          }
        />
      ))}
      {marquee && (
        <div
          className="pointer-events-none absolute z-20 border border-pine bg-pine/10"
          style={{
            left: marquee.x * scale,
            top: marquee.y * scale,
            width: marquee.width * scale,
            height: marquee.height * scale,
          }}
        />
      )}
    </>
  );
};
