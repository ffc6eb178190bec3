import type { MarkRole } from '../page/page.ts';
import type { LaidMark } from './block.ts';

type Put = (mark: { as?: MarkRole }) => void;

/** Says of everything that can be read what it is. Lines and rectangles are decoration as it is. */
const give = (mark: LaidMark, put: Put): void => {
  switch (mark.kind) {
    case 'text':
    case 'picture':
    case 'shape':
    case 'figure':
      put(mark);
      break;
    case 'piece': {
      if (mark.piece.kind !== 'text') break;
      const said: { as?: MarkRole } = { ...(mark.piece.as ? { as: mark.piece.as } : {}) };
      put(said);
      if (said.as === 'heading' || said.as === 'header' || said.as === 'artifact') mark.piece.as = said.as;
      break;
    }
    case 'late': {
      put(mark);
      const { make } = mark;
      mark.make = (page) => {
        const made = make(page);
        for (const one of made) give(one, put);
        return made;
      };
      break;
    }
    default:
  }
};

/** Says what marks are that nothing is known of yet. */
export const giveRole = (marks: readonly LaidMark[], as: MarkRole): void => {
  for (const mark of marks)
    give(mark, (one) => {
      one.as ??= as;
    });
};

/** Marks that stand on a page once more: whoever reads it has been told of them. */
export const asRepeated = (marks: readonly LaidMark[]): LaidMark[] => {
  const again = marks.filter(({ kind }) => kind !== 'anchor' && kind !== 'outline');
  for (const mark of again)
    give(mark, (one) => {
      one.as = 'artifact';
    });
  return again;
};
