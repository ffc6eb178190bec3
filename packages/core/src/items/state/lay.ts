import { drawState } from '../../chart/state.ts';
import { chartWriters, PreparedFigure } from '../../layout/figure.ts';
import { layNumber } from '../../layout/figure-box.ts';
import { type PrepareItem, plainItem } from '../../layout/preparing.ts';

export const prepareState: PrepareItem<'state'> = ({ item, figure: planned }, common, preparing) => {
  if (!planned) return preparing.broken(common);
  const figure = new PreparedFigure(planned);
  const writerOf = chartWriters(preparing.book);
  return plainItem(common, {
    item,
    shapes: {},
    lay: (own, box, out) => {
      const at = own.cases.findIndex((_, i) => figure.formula(`cases/${i}/when`)?.(out.context) === true);
      out.formulas += own.cases.length;
      const holding = own.cases[at];
      if (!holding) return;
      const { shape, color, words = '' } = holding;
      layNumber(figure, { id: own.id, box, look: own.look ?? {}, out }, (_, inner, look) => ({
        alternative: words === '' ? shape : words,
        table: [],
        marks: drawState({ shape, color, words }, inner, writerOf(look)),
      }));
    },
  });
};
