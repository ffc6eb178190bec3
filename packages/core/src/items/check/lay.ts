import { type PrepareItem, plainItem, shownBy } from '../../layout/preparing.ts';
import { checkSchema } from './schema.ts';
import { layCheck } from './shape.ts';

export const prepareCheck: PrepareItem<'check'> = ({ item, formulas }, common, preparing) => {
  const evaluate = shownBy(formulas.formula);
  if (!evaluate) return preparing.broken(common);
  return plainItem(common, {
    item,
    shapes: checkSchema.shape,
    lay: (own, box, out) => {
      const value = evaluate(out.context);
      out.formulas++;
      if (typeof value !== 'boolean') return;
      out.hasContent = true;
      const mark = layCheck(value, own, box);
      if (mark) out.marks.push(mark);
    },
  });
};
