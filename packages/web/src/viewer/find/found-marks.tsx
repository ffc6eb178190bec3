import { findOnPage, type Page } from '@gaveta/core/internal';
import { type RefObject, useLayoutEffect, useMemo, useRef, useState } from 'react';
import type { Match } from './matches.ts';

interface Box {
  x: number;
  y: number;
  width: number;
  height: number;
  /** As the text that it lies on is turned. */
  transform: string | null;
}

/** Where a part of a text stands, in points of the page; the browser knows, whichever way the text runs. */
const boxOf = (text: SVGTextElement, from: number, to: number): Box | null => {
  let [left, right, top, bottom] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY, 0, 0];
  for (let i = from; i < Math.min(to, text.getNumberOfChars()); i++) {
    const { x, y, width, height } = text.getExtentOfChar(i);
    left = Math.min(left, x);
    right = Math.max(right, x + width);
    top = y;
    bottom = y + height;
  }
  if (right <= left) return null;
  return { x: left, y: top, width: right - left, height: bottom - top, transform: text.getAttribute('transform') };
};

interface FoundMarksProps {
  page: Page;
  /** What holds the page’s picture. */
  paper: RefObject<HTMLDivElement | null>;
  sought: string;
  /** The one that is shown; null when it is on another page. */
  match: Match | null;
  goings: number;
  isAway: RefObject<boolean>;
}

/** Marks over the words of a page that were found. The one that is shown comes into view. */
export const FoundMarks = ({ page, paper, sought, match, goings, isAway }: FoundMarksProps) => {
  const shown = match?.nth ?? null;
  const found = useMemo(() => findOnPage(page, sought), [page, sought]);
  const [boxes, setBoxes] = useState<Box[][]>([]);
  useLayoutEffect(() => {
    const texts = paper.current?.querySelectorAll<SVGTextElement>('svg text') ?? [];
    setBoxes(
      found.map(({ pieces }) =>
        pieces.flatMap(({ text, from, to }) => {
          const element = texts[text];
          const box = element ? boxOf(element, from, to) : null;
          return box ? [box] : [];
        }),
      ),
    );
  }, [found, paper]);
  const current = useRef<SVGRectElement>(null);
  const isThere = shown !== null && (boxes[shown]?.length ?? 0) > 0;
  // biome-ignore lint/correctness/useExhaustiveDependencies: each time that it is gone to
  useLayoutEffect(() => {
    // Once: who scrolls on is not taken back.
    if (!isThere || !isAway.current) return;
    isAway.current = false;
    current.current?.scrollIntoView({ block: 'center', inline: 'nearest' });
  }, [isThere, shown, goings]);
  return (
    <svg
      aria-hidden="true"
      className="found-marks pointer-events-none absolute inset-0 size-full"
      viewBox={`0 0 ${page.width} ${page.height}`}
    >
      {boxes.flatMap((pieces, i) =>
        pieces.map(({ x, y, width, height, transform }, piece) => (
          <rect
            // biome-ignore lint/suspicious/noArrayIndexKey: they are where they are on their page
            key={`${i}/${piece}`}
            ref={i === shown && piece === 0 ? current : undefined}
            data-found={i === shown ? 'shown' : 'other'}
            x={x - 0.5}
            y={y}
            width={width + 1}
            height={height}
            rx={1}
            transform={transform ?? undefined}
          />
        )),
      )}
    </svg>
  );
};
