import { FILLS, type StepOf } from '@gaveta/core/internal';
import { useTranslation } from '../../i18n/use-translation.ts';
import { Select } from '../../ui/select.tsx';
import { FieldTicks, ForEach, withPer } from '../field-lists.tsx';
import { Captioned, TextBox } from '../fields.tsx';
import type { EditorProps, StepRoom } from '../step-room.ts';
import { labelsOf } from '../step-words.ts';

type Fill = StepOf<'fill'>;

const Editor = ({ step, onChange, fields }: EditorProps<Fill>) => {
  const { t } = useTranslation();
  const type = fields.find(({ name }) => name === step.fields[0])?.type;
  return (
    <div className="flex flex-col gap-1.5">
      <FieldTicks
        label={t('data.filled')}
        fields={fields}
        {...(step.by === 'value' && type ? { types: [type] } : {})}
        chosen={step.fields}
        onChange={(next) => onChange({ ...step, fields: next })}
      />
      <Select
        label={t('data.fillBy')}
        value={step.by}
        choices={FILLS.map((value) => ({ value, label: t(`data.fill_${value}`) }))}
        onPick={(by) => {
          const { value: _, ...rest } = step;
          onChange({ ...rest, by });
        }}
      />
      {step.by === 'value' ? (
        <Captioned words={t('data.fillValue')}>
          <TextBox
            label={t('data.fillValue')}
            type={type === 'date' ? 'date' : 'text'}
            placeholder={type === 'number' ? '0' : ''}
            value={step.value === undefined ? '' : String(step.value)}
            onChange={(value) => onChange({ ...step, value })}
          />
        </Captioned>
      ) : (
        <ForEach fields={fields} per={step.per} onChange={(per) => onChange(withPer(step, per))} />
      )}
    </div>
  );
};

export const fillRoom: StepRoom<'fill'> = {
  Editor,
  begin: ({ first }) => ({ step: 'fill', fields: first === '' ? [] : [first], by: 'value' }),
  words: ({ fields: filled, by, value, per = [] }, { t, fields }) => [
    [
      { field: labelsOf(fields, filled) || '…' },
      by === 'value' ? t('data.fillWith', { value: value ?? '…' }) : t(`data.fill_${by}`),
    ],
    ...(per.length > 0 ? [[t('data.alongPerOf', { fields: labelsOf(fields, per) })]] : []),
  ],
};
