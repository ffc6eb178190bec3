import type { LucideIcon } from 'lucide-react';
import { useGesture } from '../../design/gesture.ts';
import { LiveDrawing } from './live-drawing.tsx';
import { type FieldPart, PartTags } from './part-tags.tsx';

interface Props {
  item: string;
  /** What stands there while there is nothing to draw. */
  icon: LucideIcon;
  parts: readonly FieldPart[];
  /** Whether there is something to draw, and whether all parts that matter have a field. */
  isFilled: boolean;
  isComplete: boolean;
}

/** A small figure on the board: as the live page draws it, with its parts on its edge. It takes fields anywhere. */
export const FigureBoard = ({ item, icon: Icon, parts, isFilled, isComplete }: Props) => {
  const isOver = useGesture((s) => s.over?.item === item && s.over.part === null);
  return (
    <div
      data-of-item={item}
      data-part=""
      className={`relative size-full border ${isOver ? 'border-pine' : isFilled ? 'border-brass/50' : 'border-brass'} bg-white/60`}
    >
      {isFilled ? (
        <LiveDrawing id={item} />
      ) : (
        <Icon
          aria-hidden
          strokeWidth={1}
          className="absolute top-1/2 left-1/2 size-12 max-h-[60%] -translate-x-1/2 -translate-y-1/2 text-rule"
        />
      )}
      <PartTags item={item} parts={parts} isFilled={isComplete} />
    </div>
  );
};
