import { type PrepareItem, plainItem, shownBy } from '../../layout/preparing.ts';
import { phrase } from '../../problems/phrases.ts';
import { problem } from '../../problems/problem.ts';
import { valueText } from '../../value/value.ts';
import { layBarcode } from './marks.ts';
import { barcodeSchema } from './schema.ts';

export const prepareBarcode: PrepareItem<'barcode'> = ({ item, formulas }, common, preparing) => {
  const evaluate = shownBy(formulas.formula);
  if (!evaluate) return preparing.broken(common);
  return plainItem(common, {
    item,
    shapes: barcodeSchema.shape,
    lay: (own, box, out) => {
      const value = evaluate(out.context);
      out.formulas++;
      const content = value === null ? '' : valueText(value);
      if (content === '') return;
      out.hasContent = true;
      const laid = layBarcode(content, own, box, out.book);
      out.marks.push(...laid.marks);
      if (laid.isWhole) return;
      const data = { content: content.slice(0, 60), code: own.code, detail: phrase(`holds-${own.code}`) };
      out.tell(problem('barcode-wrong', { item: own.id }, data, 'warning'));
    },
  });
};
