import { checkFormula, constantScope, type Parameter } from '@gaveta/core/internal';
import { problemWords } from '../../i18n/words.ts';
import { TextBox } from '../fields.tsx';

interface PlainFormulaProps {
  label: string;
  value: string;
  placeholder?: string;
  /** Parameters that it may read. */
  parameters: readonly Parameter[];
  onChange: (formula: string) => void;
}

/** A formula that stands by itself, reading no row, with what is wrong with it below. */
export const PlainFormula = ({ parameters, ...box }: PlainFormulaProps) => {
  const checked = box.value.trim() === '' ? null : checkFormula(box.value, constantScope(parameters));
  const wrong = checked && !checked.ok ? checked.problems[0] : undefined;
  return (
    <span className="block min-w-0">
      <TextBox {...box} className="font-mono text-[12px]" />
      {wrong && (
        <span role="alert" className="block text-[11.5px] text-rust">
          {problemWords(wrong)}
        </span>
      )}
    </span>
  );
};
