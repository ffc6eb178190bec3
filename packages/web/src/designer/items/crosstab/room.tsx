import type { CrosstabPart, ItemOf } from '@gaveta/core/internal';
import { Table2 } from 'lucide-react';
import { Popover } from 'radix-ui';
import { useRef } from 'react';
import { useTranslation } from 'react-i18next';
import { Panel } from '../../../ui/panel.tsx';
import { useGesture } from '../../design/gesture.ts';
import type { BoardProps, ItemRoom } from '../room.ts';
import { CellChoices } from './cell-choices.tsx';
import { CrosstabContent, CrosstabLook } from './content.tsx';
import { GroupChoices } from './group-choices.tsx';
import { useCrosstab } from './use-crosstab.ts';
import { cellWords, groupWords } from './words.ts';

/** A tag on a part, which says what stands there; a press opens its choices. */
const Tag = ({
  item,
  part,
  at,
  words,
}: {
  item: ItemOf<'crosstab'>;
  part: CrosstabPart;
  at: number;
  words: string;
}) => {
  const { t } = useTranslation();
  const hands = useCrosstab(item);
  const from = useRef<{ x: number; y: number } | null>(null);
  return (
    <Popover.Root>
      <Popover.Trigger asChild>
        <button
          type="button"
          data-tag={`${part}-${at}`}
          className={`max-w-full truncate rounded-full border px-1.5 text-[10.5px] leading-[15px] ${part === 'cells' ? 'border-pine/40 bg-pine-soft text-chip' : 'border-brass/50 bg-brass-soft text-ink'}`}
          onPointerDown={({ clientX, clientY }) => {
            from.current = { x: clientX, y: clientY };
          }}
          // What was dragged along with its item was not pressed.
          onClick={(event) => {
            const { x, y } = from.current ?? { x: event.clientX, y: event.clientY };
            if (Math.hypot(event.clientX - x, event.clientY - y) > 3) event.preventDefault();
          }}
          onDoubleClick={(event) => event.stopPropagation()}
        >
          <span className="opacity-70">{t(`crosstab.${part}`)}</span> <b className="font-semibold">{words}</b>
        </button>
      </Popover.Trigger>
      {/* biome-ignore lint/a11y/noStaticElementInteractions: what is pressed in the panel is no press of the item, which React takes it for */}
      <span
        className="contents"
        onPointerDown={(event) => event.stopPropagation()}
        onDoubleClick={(event) => event.stopPropagation()}
      >
        <Panel label={words} align="start" className="max-h-[70vh] w-72 overflow-auto p-2.5">
          {part === 'cells' ? (
            <CellChoices hands={hands} at={at} />
          ) : (
            <GroupChoices hands={hands} part={part} at={at} />
          )}
        </Panel>
      </span>
    </Popover.Root>
  );
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
      className={`flex min-h-0 min-w-0 flex-wrap content-start items-start gap-0.5 overflow-hidden p-0.5 ${className} ${isOver ? 'bg-pine-soft outline-2 -outline-offset-2 outline-pine' : ''}`}
    >
      {words.map((one, at) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: told apart by their place
        <Tag key={at} item={item} part={part} at={at} words={one} />
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
    <div aria-hidden className="border-r border-b border-rule-soft p-1 text-ink-3">
      <Table2 size={11} />
    </div>
    <Part item={item} part="across" className="border-b border-rule-soft" />
    <Part item={item} part="down" className="border-r border-rule-soft" />
    <Part item={item} part="cells" className="" />
  </div>
);

export const crosstabRoom: ItemRoom<'crosstab'> = {
  Board,
  Content: CrosstabContent,
  Look: CrosstabLook,
  add: { id: 'crosstab', icon: Table2 },
};
