import type { ItemOf } from '../../definition/schema.ts';
import type { Box, LayingOut } from '../../layout/prepared.ts';
import { type PrepareItem, plainItem, shownBy } from '../../layout/preparing.ts';
import { type Problem, problem } from '../../problems/problem.ts';
import { Picture, type Value } from '../../value/value.ts';
import { layPicture, pictureProblem } from './pictures.ts';
import { pictureSchema } from './schema.ts';

/** Frame that stands where a picture cannot be shown. */
const NO_PICTURE = '#b8b8b8';

export const preparePicture: PrepareItem<'picture'> = ({ item, formulas }, common, preparing) => {
  const evaluate = shownBy(formulas.formula);
  if (formulas.formula && !evaluate) return preparing.broken(common);
  return plainItem(common, {
    item,
    shapes: pictureSchema.shape,
    lay: (own, box, out) => {
      if (evaluate) out.formulas++;
      lay(own, evaluate ? evaluate(out.context) : (own.source ?? null), box, out);
    },
  });
};

const lay = (item: ItemOf<'picture'>, value: Value, box: Box, out: LayingOut): void => {
  const source = value instanceof Picture ? value.toString() : typeof value === 'string' ? value : '';
  const isMissing = source === '' && item.fromLibrary !== undefined;
  if (source === '' && !isMissing) return;
  out.hasContent = true;
  const wrong = isMissing ? 'picture-not-there' : pictureProblem(source, out.limits.maxPixels);
  if (wrong === null) {
    const mark = layPicture(source, item, box);
    out.show(mark.picture, source);
    out.marks.push(mark);
    return;
  }
  out.marks.push({ kind: 'rectangle', ...box, item: item.id, stroke: NO_PICTURE, fill: '#f2f2f2', thickness: 0.5 });
  const data: Problem['data'] = wrong === 'picture-too-large' ? { limit: out.limits.maxPixels / 1_000_000 } : {};
  out.tell(problem(wrong, { item: item.id }, data, 'warning'));
};
