import type { BandAddress, Edit } from '@gaveta/core/internal';
import type { ReactNode } from 'react';
import { Check } from '../../ui/commit.tsx';
import { FormulaBox } from '../formula/formula-box.tsx';
import { FormulaMark, Setting } from './setting.tsx';

/** What has settings that formulas can decide on: items, or a band. */
export interface FormulaHolder<K extends string> {
  /** Where the formulas stand, which decides what is in reach. */
  address: BandAddress;
  /** The formula that decides on a setting. */
  formulaOf: (name: K) => string | undefined;
  /** Null gives the setting back to what is chosen. */
  setFormula: (name: K, formula: string | null) => void;
  formulaEdit: (name: K, formula: string | null) => Edit;
}

interface ByFormulaProps<K extends string> {
  holder: FormulaHolder<K>;
  name: K;
  label: string;
  /** What the formula says at first. */
  start: string;
}

/** A text as a formula says it. */
export const quoted = (text: string | undefined): string => `"${(text ?? '').replaceAll('"', '""')}"`;

/** A setting that is chosen, or decided on by a formula for each row unless it is `fixed`. */
export const ByFormula = <K extends string>(props: ByFormulaProps<K> & { children: ReactNode; fixed?: boolean }) => {
  const { holder, name, label, start, children, fixed } = props;
  const formula = holder.formulaOf(name);
  const on = formula !== undefined && !fixed;
  const mark = fixed ? undefined : { on, toggle: () => holder.setFormula(name, on ? null : start) };
  return (
    <Setting label={label} wide={on} formula={mark}>
      {on ? (
        <FormulaBox
          label={label}
          value={formula}
          address={holder.address}
          attempt={(text) => holder.formulaEdit(name, text)}
          onCommit={(text) => holder.setFormula(name, text.trim() === '' ? null : text)}
        />
      ) : (
        children
      )}
    </Setting>
  );
};

interface CheckByFormulaProps<K extends string> extends Omit<ByFormulaProps<K>, 'start'> {
  checked: boolean;
  onChange: (on: boolean) => void;
}

/** Something that is on or off, or TRUE or FALSE by a formula for each row. */
export const CheckByFormula = <K extends string>({ checked, onChange, ...props }: CheckByFormulaProps<K>) => {
  const { holder, name, label } = props;
  const start = checked ? 'TRUE' : 'FALSE';
  if (holder.formulaOf(name) !== undefined)
    return (
      <ByFormula {...props} start={start}>
        {null}
      </ByFormula>
    );
  return (
    <Check
      label={label}
      checked={checked}
      onChange={onChange}
      beside={<FormulaMark label={label} on={false} toggle={() => holder.setFormula(name, start)} />}
    />
  );
};
