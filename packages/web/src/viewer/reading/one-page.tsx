import { readablePage } from '@gaveta/core/internal';
import { useQuery } from '@tanstack/react-query';
import { useRef } from 'react';
import { FoundMarks } from '../find/found-marks.tsx';
import type { Find } from '../find/use-find.ts';
import type { PagePictures } from '../pictures.ts';
import { blockOf } from './page-blocks.ts';

export interface ShownRun {
  run: string;
  pictures: PagePictures;
  /** Pages that are there. */
  count: number;
  done: boolean;
  /** What is looked for, and the match that is shown. */
  find: Pick<Find, 'sought' | 'match' | 'goings' | 'isAway'>;
}

interface OnePageProps extends ShownRun {
  number: number;
  /** It is a part of a long page. */
  isStrip?: boolean;
}

/** A page of a run on its paper, as large as what it stands in. */
export const OnePage = ({ run, pictures, number, count, done, find, isStrip = false }: OnePageProps) => {
  const paper = useRef<HTMLDivElement>(null);
  const block = useQuery({
    ...blockOf(run, number, { count, done, pictures }),
    // More pages of it, or what they waited for: until they are there, those that are stay.
    placeholderData: (old, before) => (before?.queryKey[1] === run ? old : undefined),
  });
  const page = block.data?.find((p) => p.number === number);
  return (
    <>
      <div
        ref={paper}
        className={`page-paper size-full bg-white ${isStrip ? '' : 'shadow-[0_1px_0_#cfc6b1,0_8px_24px_#5a4d2c1f]'}`}
        data-page={number}
        // The text of every mark is escaped by readablePage.
        // biome-ignore lint/security/noDangerouslySetInnerHtml: see above
        dangerouslySetInnerHTML={{ __html: page ? readablePage(page, pictures.address) : '' }}
      />
      {page && find.sought !== null && (
        <FoundMarks
          page={page}
          paper={paper}
          sought={find.sought}
          match={find.match?.page === number ? find.match : null}
          goings={find.goings}
          isAway={find.isAway}
        />
      )}
    </>
  );
};
