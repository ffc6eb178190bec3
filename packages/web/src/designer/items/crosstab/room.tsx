import type { CrosstabPart, ItemOf } from '@gaveta/core/internal';
import { Table2 } from 'lucide-react';
import { useTranslation } from '../../../i18n/use-translation.ts';
import { useGesture } from '../../design/gesture.ts';
import { Tag } from '../groups/tag.tsx';
import { groupWords } from '../groups/words.ts';
import type { BoardProps, ItemRoom } from '../room.ts';
import { CellChoices } from './cell-choices.tsx';
import { CrosstabContent, CrosstabLook } from './content.tsx';
import { GroupChoices } from './group-choices.tsx';
import { useCrosstab } from './use-crosstab.ts';
import { cellWords } from './words.ts';

/** What a press on a tag opens. */
const Choices = ({ item, part, at }: { item: ItemOf<'crosstab'>; part: CrosstabPart; at: number }) => {
  const hands = useCrosstab(item);
  return part === 'cells' ? <CellChoices hands={hands} at={at} /> : <GroupChoices hands={hands} part={part} at={at} />;
};

/** A part that takes fields; it says so while it is empty. */
const Part = ({ item, part, className }: { item: ItemOf<'crosstab'>; part: CrosstabPart; className: string }) => {
  const { t } = useTranslation();
  const isOver = useGesture((s) => s.over?.item === item.id && s.over.part === part);
  const words =
    part === 'cells' ? item.cells.map((cell) => cellWords(t, cell)) : item[part].map((g) => groupWords(t, g));
  return (
    <div
      data-of-item={item.id}
      data-part={part}
      data-part-words={t(`crosstab.${part}`)}
      className={`flex min-h-0 min-w-0 flex-wrap content-start items-start gap-0.5 overflow-hidden p-0.5 ${className} ${isOver ? 'bg-pine-soft outline-2 -outline-offset-2 outline-pine' : ''}`}
    >
      {words.map((one, at) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: told apart by their place
        <Tag key={at} tag={`${part}-${at}`} part={t(`crosstab.${part}`)} words={one} isCounted={part === 'cells'}>
          <Choices item={item} part={part} at={at} />
        </Tag>
      ))}
      {words.length === 0 && (
        <span className="px-1 text-[10.5px] leading-[15px] text-ink-3">{t(`crosstab.drop_${part}`)}</span>
      )}
    </div>
  );
};

/** On the board: its parts at their places, each of which takes fields. */
const Board = ({ item }: BoardProps<'crosstab'>) => (
  <div className="grid size-full grid-cols-[minmax(0,36%)_minmax(0,1fr)] grid-rows-[minmax(18px,auto)_minmax(0,1fr)] overflow-hidden border border-brass bg-white/60">
    <div aria-hidden className="border-e border-b border-rule-soft p-1 text-ink-3">
      <Table2 size={11} />
    </div>
    <Part item={item} part="across" className="border-b border-rule-soft" />
    <Part item={item} part="down" className="border-e border-rule-soft" />
    <Part item={item} part="cells" className="" />
  </div>
);

/** Over the laid-out table: what goes down above its names, what goes across above its columns, and what is counted beside that. */
const Tags = ({ item }: { item: ItemOf<'crosstab'> }) => (
  <div className="absolute bottom-full left-0 flex min-w-full items-end gap-1 rounded-sm bg-paper/80">
    <Part item={item} part="down" className="w-[36%] flex-none" />
    <Part item={item} part="across" className="flex-none" />
    <Part item={item} part="cells" className="flex-none" />
  </div>
);

export const crosstabRoom: ItemRoom<'crosstab'> = {
  Board,
  Tags,
  Content: CrosstabContent,
  Look: CrosstabLook,
  add: { id: 'crosstab', icon: Table2 },
};
