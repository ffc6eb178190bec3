import { type Condition, completePart, conditionFormula, conditionOf } from '@gaveta/core/internal';
import { type ComponentProps, useState } from 'react';
import { ConditionEditor } from './condition-editor.tsx';

interface FormulaConditionsProps extends Omit<ComponentProps<typeof ConditionEditor>, 'condition' | 'onChange'> {
  /** What is kept of the conditions; empty where there are none. */
  formula: string;
  onChange: (formula: string) => void;
}

/** Conditions that are kept as a formula. One that does not say yet what it compares with changes nothing. */
export const FormulaConditions = ({ formula, onChange, ...editor }: FormulaConditionsProps) => {
  const { fields } = editor;
  /** The conditions as they are being put together. */
  const [draft, setDraft] = useState<Condition | null>(null);
  const formulaOf = (given: Condition): string => {
    const complete = completePart(given);
    const written = complete === null ? 'TRUE()' : conditionFormula(complete, fields);
    return written === 'TRUE()' ? '' : written;
  };
  return (
    <ConditionEditor
      {...editor}
      condition={draft && formulaOf(draft) === formula ? draft : conditionOf(formula, fields)}
      onChange={(next) => {
        setDraft(next);
        const written = formulaOf(next);
        if (written !== formula) onChange(written);
      }}
    />
  );
};
