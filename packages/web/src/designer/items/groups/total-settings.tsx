import { type ItemField, type TotalParts, totalFormula, totalParts } from '@gaveta/core/internal';
import { useTranslation } from '../../../i18n/use-translation.ts';
import { Select } from '../../../ui/select.tsx';
import { FormulaBox, type FormulaPlace } from '../../formula/formula-box.tsx';
import { Setting } from '../../settings/setting.tsx';
import { CELL_TOTALS } from './words.ts';

interface Props {
  of: { formula: string };
  fields: readonly ItemField[];
  place: FormulaPlace;
  onChange: (next: { formula: string; caption?: string }) => void;
}

/** What is counted, and of which field; or a formula over totals. */
export const TotalSettings = ({ of: counted, fields, place, onChange }: Props) => {
  const { t } = useTranslation();
  const parts = totalParts(counted.formula);
  const total = (next: Partial<TotalParts>): void => {
    if (parts) onChange({ formula: totalFormula({ ...parts, ...next }) });
  };
  const known = CELL_TOTALS.find((one) => one === parts?.name);
  return (
    <>
      {parts && (
        <>
          <Setting label={t('formula.total')}>
            <Select
              label={t('formula.total')}
              value={known}
              blank={parts.name}
              choices={CELL_TOTALS.map((value) => ({
                value,
                label: t(value === 'MEDIAN' ? 'formula.total_MEDIAN' : `data.total_${value}`),
              }))}
              onPick={(picked) => total({ name: picked })}
            />
          </Setting>
          <Setting label={t('crosstab.field')}>
            <Select
              label={t('crosstab.field')}
              value={fields.some(({ formula }) => formula === parts.of) ? parts.of : undefined}
              blank={parts.of}
              choices={fields.map(({ formula, label, of }) => ({ value: formula, label, group: of }))}
              onPick={(of) => {
                const label = fields.find(({ formula }) => formula === of)?.label;
                onChange({ formula: totalFormula({ ...parts, of }), ...(label ? { caption: label } : {}) });
              }}
            />
          </Setting>
        </>
      )}
      <Setting label={t('crosstab.formula')} wide>
        <FormulaBox
          label={t('crosstab.formula')}
          value={counted.formula}
          address={place}
          onCommit={(formula) => formula.trim() !== '' && onChange({ formula })}
        />
      </Setting>
    </>
  );
};
