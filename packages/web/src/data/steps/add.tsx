import { type StepOf, shownFields } from '@gaveta/core/internal';
import { useTranslation } from '../../i18n/use-translation.ts';
import { TextBox } from '../fields.tsx';
import { freeName } from '../recipe-draft.ts';
import type { EditorProps, StepRoom } from '../step-room.ts';

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
        onChange={(formula) => onChange({ ...step, formula })}
      />
      <p className="text-[11.5px] text-ink-3">
        {t('data.formulaHint', {
          fields: shownFields(fields)
            .slice(0, 8)
            .map((f) => f.name)
            .join(', '),
        })}
      </p>
    </div>
  );
};

export const addRoom: StepRoom<'add'> = {
  Editor,
  begin: ({ fields, first }) => {
    const taken = fields.map((f) => f.name);
    return { step: 'add', name: freeName('new_column', taken), formula: first };
  },
  words: ({ label, name, formula }) => [[{ field: label ?? name }], [{ code: formula || '…' }]],
};
