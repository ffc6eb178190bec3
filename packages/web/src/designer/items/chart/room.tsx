import type { ChartPart } from '@gaveta/core/internal';
import { ChartColumn } from 'lucide-react';
import { useTranslation } from '../../../i18n/use-translation.ts';
import { useGesture } from '../../design/gesture.ts';
import { LiveDrawing } from '../groups/live-drawing.tsx';
import { Tag } from '../groups/tag.tsx';
import type { BoardProps, ItemRoom } from '../room.ts';
import { ChartContent } from './content.tsx';
import { ChartLook } from './look.tsx';
import { PartChoices } from './part-choices.tsx';
import { type ChartItem, useChart } from './use-chart.ts';
import { partsAt, partWords, tagsOf } from './words.ts';

const Choices = ({ item, part, measure }: { item: ChartItem; part: ChartPart; measure: number | null }) => (
  <PartChoices hands={useChart(item)} part={part} measure={measure} />
);

/** A part of the drawing that takes fields; it says so while it is empty. */
const Part = ({ item, part, isQuiet }: { item: ChartItem; part: ChartPart; isQuiet: boolean }) => {
  const { t } = useTranslation();
  const isOver = useGesture((s) => s.over?.item === item.id && s.over.part === part.part);
  const tags = tagsOf(t, item, part);
  const isGroup = part.part === 'along' || part.part === 'split' || part.part === 'panels';
  return (
    <div
      data-of-item={item.id}
      data-part={part.part}
      data-part-words={partWords(t, part)}
      className={`flex min-h-[19px] min-w-[26px] items-center gap-0.5 rounded-sm p-0.5 ${isOver ? 'bg-pine-soft outline-2 -outline-offset-2 outline-pine' : ''}`}
    >
      {tags.map(({ measure, words }) => (
        <Tag
          key={measure ?? part.part}
          tag={`${part.part}-${measure ?? 0}`}
          part={partWords(t, part)}
          words={words}
          isCounted={!isGroup}
        >
          <Choices item={item} part={part} measure={measure} />
        </Tag>
      ))}
      {tags.length === 0 && !isQuiet && (
        <span className="rounded-full border border-dashed border-rule bg-paper/90 px-1.5 whitespace-nowrap text-[10.5px] leading-[15px] text-ink-3">
          {t(`chart.drop_${part.says}`)}
        </span>
      )}
    </div>
  );
};

/** On the edges, so that as little as possible of the drawing is covered. */
const SIDES = {
  top: 'absolute -top-2.5 left-1.5 flex w-max items-start',
  bottom: 'absolute -bottom-2.5 left-[18%] flex w-max items-end',
  right: 'absolute top-[22px] -right-1 bottom-2 flex w-max flex-col items-end justify-center',
  corner: 'absolute -top-2.5 right-1.5 flex w-max justify-end',
} as const;

/** Its parts at their places; `look`: classes of each side. */
const ChartTags = ({ item, look = '' }: { item: ChartItem; look?: string }) => {
  const isFilled = item.measures.length > 0;
  // Once there is something to see, a part without a field says so only as far as it is likely to get one.
  const isQuiet = (part: ChartPart): boolean => isFilled && (part.part === 'panels' || part.part === 'split');
  return (Object.keys(SIDES) as (keyof typeof SIDES)[]).map((side) => (
    <div key={side} className={`${SIDES[side]} ${look}`}>
      {partsAt(item.type, side).map((part) => (
        <Part key={part.part} item={item} part={part} isQuiet={isQuiet(part)} />
      ))}
    </div>
  ));
};

/** On the board: the chart as the live page draws it, with its parts at their places. */
const Board = ({ item }: BoardProps<'chart'>) => {
  const isOver = useGesture((s) => s.over?.item === item.id && s.over.part === null);
  const isNear = useGesture((s) => s.over?.item === item.id);
  const isFilled = item.measures.length > 0;
  return (
    <div
      data-of-item={item.id}
      data-part=""
      className={`relative size-full border ${isOver ? 'border-pine' : 'border-brass'} bg-white/60`}
    >
      {isFilled ? (
        <LiveDrawing id={item.id} />
      ) : (
        <ChartColumn
          aria-hidden
          strokeWidth={1}
          className="absolute top-1/2 left-1/2 size-16 max-h-[60%] -translate-x-1/2 -translate-y-1/2 text-rule"
        />
      )}
      <ChartTags
        item={item}
        // The drawing is seen by itself until somebody comes near.
        look={
          isFilled && !isNear
            ? 'opacity-0 group-hover:opacity-100 group-aria-pressed:opacity-100 focus-within:opacity-100'
            : ''
        }
      />
    </div>
  );
};

export const chartRoom: ItemRoom<'chart'> = {
  Board,
  Tags: ChartTags,
  Content: ChartContent,
  Look: ChartLook,
  add: { id: 'chart', icon: ChartColumn },
};
