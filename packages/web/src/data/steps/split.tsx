import { type StepOf, shownFields } from '@gaveta/core/internal';
import { useTranslation } from '../../i18n/use-translation.ts';
import { Captioned, EntryList, FieldSelect, TextBox } from '../fields.tsx';
import { freeName } from '../recipe-draft.ts';
import type { EditorProps, StepRoom } from '../step-room.ts';
import { labelOf } from '../step-words.ts';

type Split = StepOf<'split'>;
type Part = Split['into'][number];

const Editor = ({ step, onChange, fields }: EditorProps<Split>) => {
  const { t } = useTranslation();
  const named = (label: string, others: readonly Part[]): Part => ({
    name: freeName(
      label,
      [...fields, ...others].map(({ name }) => name),
    ),
    label,
  });
  return (
    <div className="flex flex-col gap-1.5">
      <div className="grid grid-cols-[minmax(0,1fr)_110px] items-end gap-1.5">
        <FieldSelect
          label={t('data.splitField')}
          fields={fields}
          types={['text']}
          value={step.field}
          onChange={(field) => onChange({ ...step, field })}
        />
        <Captioned words={t('data.splitAt')}>
          <TextBox label={t('data.splitAt')} value={step.at} onChange={(at) => onChange({ ...step, at })} />
        </Captioned>
      </div>
      <EntryList
        items={step.into}
        onChange={(into) => onChange({ ...step, into })}
        add={t('data.addPart')}
        make={() => named(t('data.partNumber', { number: step.into.length + 1 }), step.into)}
        name={({ name, label }) => label ?? name}
      >
        {(part, change) => (
          <TextBox
            label={t('data.columnLabel')}
            value={part.label ?? part.name}
            onChange={(label) =>
              label.trim() !== '' &&
              change(
                named(
                  label.trim(),
                  step.into.filter((other) => other !== part),
                ),
              )
            }
          />
        )}
      </EntryList>
      <p className="text-[11.5px] text-ink-3">{t('data.splitHelp')}</p>
    </div>
  );
};

export const splitRoom: StepRoom<'split'> = {
  Editor,
  begin: ({ fields, t }) => {
    const taken = fields.map(({ name }) => name);
    return {
      step: 'split',
      field: shownFields(fields).find(({ type }) => type === 'text')?.name ?? '',
      at: ' ',
      into: [1, 2].map((number) => ({
        name: freeName(`part_${number}`, taken),
        label: t('data.partNumber', { number }),
      })),
    };
  },
  words: ({ field, at, into }, { t, fields }) => [
    [{ field: field === '' ? '…' : labelOf(fields, field) }, t('data.splitBy', { sign: at.trim() === '' ? '␣' : at })],
    [into.map(({ name, label }) => label ?? name).join(', ') || '…'],
  ],
};
