import type { StepOf } from '@gaveta/core/internal';
import { useTranslation } from '../../i18n/use-translation.ts';
import { FieldTicks } from '../field-lists.tsx';
import { Captioned, TextBox } from '../fields.tsx';
import { freeName } from '../recipe-draft.ts';
import type { EditorProps, StepRoom } from '../step-room.ts';
import { labelsOf } from '../step-words.ts';

const Editor = ({ step, onChange, fields }: EditorProps<StepOf<'join'>>) => {
  const { t } = useTranslation();
  return (
    <div className="flex flex-col gap-1.5">
      <FieldTicks
        label={t('data.joined')}
        fields={fields}
        types={['text', 'number', 'date', 'datetime', 'boolean']}
        chosen={step.fields}
        onChange={(next) => onChange({ ...step, fields: next })}
      />
      <div className="grid grid-cols-[110px_minmax(0,1fr)] items-end gap-1.5">
        <Captioned words={t('data.between')}>
          <TextBox
            label={t('data.between')}
            value={step.between}
            onChange={(between) => onChange({ ...step, between })}
          />
        </Captioned>
        <TextBox
          label={t('data.columnLabel')}
          value={step.label ?? step.name}
          onChange={(label) =>
            label.trim() !== '' &&
            onChange({
              ...step,
              label: label.trim(),
              name: freeName(
                label,
                fields.map(({ name }) => name),
              ),
            })
          }
        />
      </div>
    </div>
  );
};

export const joinRoom: StepRoom<'join'> = {
  Editor,
  begin: ({ fields, t }) => ({
    step: 'join',
    fields: [],
    between: ' ',
    name: freeName(
      'joined',
      fields.map(({ name }) => name),
    ),
    label: t('data.joinedStart'),
  }),
  words: ({ fields: joined, label, name }, { fields }) => [
    [{ field: label ?? name }],
    [labelsOf(fields, joined) || '…'],
  ],
};
