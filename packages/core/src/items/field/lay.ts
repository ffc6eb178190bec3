import type { PrepareItem } from '../../layout/preparing.ts';
import { wordsItem } from '../words/prepare.ts';

export const prepareField: PrepareItem<'field'> = (planned, common, preparing) =>
  wordsItem(planned, [planned.formulas.formula!], common, preparing);
