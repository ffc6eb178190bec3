import type { ReactNode } from 'react';
import { useGesture } from '../../design/gesture.ts';
import { Tag } from './tag.tsx';

/** One part of a small item that takes fields. */
export interface FieldPart {
  part: string;
  /** The part in words. */
  words: string;
  /** What is said while it is empty. */
  prompt: string;
  /** What stands there in words; null while it is empty. */
  says: string | null;
  isCounted: boolean;
  /** What a press on its tag opens. */
  choices: ReactNode;
}

interface Props {
  item: string;
  parts: readonly FieldPart[];
  /** Whether there is something to see without them. */
  isFilled: boolean;
}

/** The parts of a small item on its upper edge, and above it as far as they need room. */
export const PartTags = ({ item, parts, isFilled }: Props) => {
  const over = useGesture((s) => (s.over?.item === item ? s.over.part : undefined));
  const isQuiet = isFilled && over === undefined;
  return (
    <div
      className={`absolute bottom-[calc(100%-10px)] left-0.5 flex w-full min-w-[210px] flex-wrap-reverse gap-0.5 ${isQuiet ? 'opacity-0 group-hover:opacity-100 group-aria-pressed:opacity-100 focus-within:opacity-100' : ''}`}
    >
      {parts.map(({ part, words, prompt, says, isCounted, choices }) => (
        <div
          key={part}
          data-of-item={item}
          data-part={part}
          data-part-words={words}
          // One that is empty asks for a field once there is nothing else to see, or a field comes near.
          className={`max-w-[200px] rounded-full ${over === part ? 'outline-2 outline-pine' : ''} ${says === null && isQuiet ? 'hidden' : ''}`}
        >
          {says === null ? (
            <span className="block max-w-full truncate rounded-full border border-dashed border-rule bg-paper/90 px-1.5 text-[10.5px] leading-[15px] text-ink-3">
              {prompt}
            </span>
          ) : (
            <Tag tag={part} part={words} words={says} isCounted={isCounted}>
              {choices}
            </Tag>
          )}
        </div>
      ))}
    </div>
  );
};
