import { type StepOf, shownFields, TOTALS } from '@gaveta/core/internal';
import { useTranslation } from '../../i18n/use-translation.ts';
import { ForEach, withPer } from '../field-lists.tsx';
import { TextBox } from '../fields.tsx';
import { seenAs } from '../fields-of-row.ts';
import { freeName } from '../recipe-draft.ts';
import type { EditorProps, StepRoom } from '../step-room.ts';
import { labelsOf } from '../step-words.ts';

const TOTAL = new RegExp(`\\b(?:${Object.keys(TOTALS).join('|')})\\s*\\(`, 'i');

/** Whether a formula may read totals; of values at hand it does no harm to ask for which rows. */
const readsTotals = (formula: string): boolean => TOTAL.test(formula);

const Editor = ({ step, onChange, fields }: EditorProps<StepOf<'add'>>) => {
  const { t } = useTranslation();
  const taken = fields.map((f) => f.name);
  return (
    <div className="flex flex-col gap-1.5">
      <TextBox
        label={t('data.columnName')}
        placeholder={t('data.columnName')}
        value={step.label ?? step.name}
        onChange={(label) => onChange({ ...step, label, name: freeName(label, taken) })}
      />
      <TextBox
        label={t('data.formula')}
        className="font-mono text-[12px]"
        placeholder="nights * 2"
        value={step.formula}
        onChange={(formula) => onChange({ ...step, formula: seenAs(formula, fields) })}
      />
      <p className="text-[11.5px] text-ink-3">
        {t('data.formulaHint', {
          fields: shownFields(fields)
            .slice(0, 8)
            .map((f) => f.label)
            .join(', '),
        })}
      </p>
      {readsTotals(step.formula) && (
        <div className="flex flex-col gap-1">
          <span className="text-[11.5px] text-ink-3">{t(step.per ? 'data.totalsOfEach' : 'data.totalsOfAll')}</span>
          <ForEach fields={fields} per={step.per} onChange={(per) => onChange(withPer(step, per))} />
        </div>
      )}
    </div>
  );
};

export const addRoom: StepRoom<'add'> = {
  Editor,
  begin: ({ fields, first }) => {
    const taken = fields.map((f) => f.name);
    return { step: 'add', name: freeName('new_column', taken), formula: first };
  },
  words: ({ label, name, formula, per = [] }, { t, fields }) => [
    [{ field: label ?? name }],
    [{ code: formula || '…' }],
    ...(per.length > 0 ? [[t('data.alongPerOf', { fields: labelsOf(fields, per) })]] : []),
  ],
};
