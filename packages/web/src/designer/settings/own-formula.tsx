import type { ItemOf } from '@gaveta/core/internal';
import { FormulaBox } from '../formula/formula-box.tsx';
import type { Chosen } from './item-context.ts';
import { Setting } from './setting.tsx';

interface OwnFormulaProps {
  label: string;
  item: ItemOf<'field'> | ItemOf<'barcode'> | ItemOf<'check'> | ItemOf<'formatted'>;
  chosen: Chosen;
  isCondition?: boolean;
}

/** The formula whose value an item shows, tried on the live page while it is typed. */
export const OwnFormula = ({ label, item, chosen, isCondition }: OwnFormulaProps) => (
  <Setting label={label} wide>
    <FormulaBox
      key={item.id}
      label={label}
      setting="formula"
      value={item.formula}
      address={chosen.address}
      format={item.kind === 'field' ? item.format : undefined}
      isCondition={isCondition}
      attempt={(formula) => ({ do: 'set', items: [item.id], settings: { formula } })}
      onCommit={(formula) => chosen.set(label, { formula })}
    />
  </Setting>
);
