import { type StepOf, shownFields } from '@gaveta/core/internal';
import { useTranslation } from '../../i18n/use-translation.ts';
import { FieldTicks } from '../field-lists.tsx';
import { Captioned, TextBox } from '../fields.tsx';
import { freeName } from '../recipe-draft.ts';
import type { EditorProps, StepRoom } from '../step-room.ts';
import { labelOf } from '../step-words.ts';

type Gather = StepOf<'gather'>;

const Editor = ({ step, onChange, fields }: EditorProps<Gather>) => {
  const { t } = useTranslation();
  const chosen = step.columns.map(({ field }) => field);
  // One column holds values of one type: that of the first.
  const type = fields.find(({ name }) => name === chosen[0])?.type;
  const others = fields.filter(({ name }) => !chosen.includes(name)).map(({ name }) => name);
  const named = (label: string, other: string): { name: string; label: string } => ({
    name: freeName(label, [...others, other]),
    label,
  });
  return (
    <div className="flex flex-col gap-1.5">
      <FieldTicks
        label={t('data.gathered')}
        fields={fields}
        {...(type ? { types: [type] } : {})}
        chosen={chosen}
        onChange={(names) =>
          onChange({
            ...step,
            columns: names.map((field) => step.columns.find((column) => column.field === field) ?? { field }),
          })
        }
      />
      <div className="grid grid-cols-2 gap-1.5">
        <Captioned words={t('data.gatheredNames')}>
          <Captioned words={t('data.gatheredValues')}>
            <TextBox
              label={t('data.gatheredNames')}
              value={step.names.label ?? step.names.name}
              onChange={(label) =>
                label.trim() !== '' && onChange({ ...step, names: named(label.trim(), step.values.name) })
              }
            />
          </Captioned>
          <TextBox
            label={t('data.gatheredValues')}
            value={step.values.label ?? step.values.name}
            onChange={(label) =>
              label.trim() !== '' && onChange({ ...step, values: named(label.trim(), step.names.name) })
            }
          />
        </Captioned>
      </div>
      <label className="flex items-center gap-1.5">
        <input
          type="checkbox"
          checked={step.blanks === true}
          onChange={(event) => {
            const { blanks: _, ...rest } = step;
            onChange(event.target.checked ? { ...rest, blanks: true } : rest);
          }}
        />
        {t('data.gatheredBlanks')}
      </label>
    </div>
  );
};

export const gatherRoom: StepRoom<'gather'> = {
  Editor,
  // Columns of numbers after the first are the likeliest: they are what a table was turned by.
  begin: ({ fields, t }) => {
    const numbers = shownFields(fields).filter(({ type }) => type === 'number');
    const taken = fields.map(({ name }) => name);
    return {
      step: 'gather',
      columns: numbers.slice(1).map(({ name }) => ({ field: name })),
      names: { name: freeName('name', taken), label: t('data.nameStart') },
      values: { name: freeName('value', taken), label: t('data.fillValue') },
    };
  },
  words: ({ columns }, { fields }) => [
    [columns.map(({ field, label }) => label ?? labelOf(fields, field)).join(', ') || '…'],
  ],
};
