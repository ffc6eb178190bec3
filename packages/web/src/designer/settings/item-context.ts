import type { BandAddress, Edit, FormulaSetting, Item, Look, Report } from '@gaveta/core/internal';
import type { TFunction } from 'i18next';
import { lookOf } from '../design/looks.ts';
import { useDesigner } from '../design/state.ts';
import type { FormulaHolder } from './by-formula.tsx';

/** The value that all have, or undefined when they differ. */
export const shared = <T>(values: readonly T[]): T | undefined =>
  values.every((v) => JSON.stringify(v) === JSON.stringify(values[0])) ? values[0] : undefined;

/** Selected items, and the edits that change them together. */
export interface Chosen extends FormulaHolder<FormulaSetting> {
  items: readonly Item[];
  ids: string[];
  /** What all texts among them have in common. */
  look: <K extends keyof Look>(key: K) => Look[K] | undefined;
  /** A setting that all have, when they have it in common. */
  value: (key: string) => unknown;
  edit: (name: string, edit: Edit) => void;
  set: (what: string, settings: Record<string, unknown>) => void;
  setLook: (look: { [K in keyof Look]: Look[K] | null }) => void;
}

export const chosenOf = (t: TFunction, report: Report, items: readonly Item[], address: BandAddress): Chosen => {
  const ids = items.map((i) => i.id);
  const looks = items.map((i) => lookOf(report.styles, i));
  const { edit } = useDesigner.getState();
  const formulaEdit = (name: FormulaSetting, formula: string | null): Edit => ({
    do: 'all',
    edits: items.map((item): Edit => {
      const { [name]: _, ...others } = item.formulas ?? {};
      const formulas = formula === null ? others : { ...others, [name]: formula };
      return {
        do: 'set',
        items: [item.id],
        settings: { formulas: Object.keys(formulas).length > 0 ? formulas : null },
      };
    }),
  });
  return {
    items,
    ids,
    address,
    look: (key) => shared(looks.map((l) => l[key])),
    value: (key) => shared(items.map((i) => (i as unknown as Record<string, unknown>)[key])),
    edit,
    set: (what, settings) => edit(t('edits.set', { what: what.toLowerCase() }), { do: 'set', items: ids, settings }),
    setLook: (look) => edit(t('edits.look'), { do: 'look', items: ids, look }),
    formulaOf: (name) => items[0]?.formulas?.[name],
    setFormula: (name, formula) => edit(t('edits.formula'), formulaEdit(name, formula)),
    formulaEdit,
  };
};
