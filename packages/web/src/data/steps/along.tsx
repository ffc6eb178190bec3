import { ALONG, type StepOf, shownFields } from '@gaveta/core/internal';
import { useTranslation } from '../../i18n/use-translation.ts';
import { Select } from '../../ui/select.tsx';
import { ForEach, withPer } from '../field-lists.tsx';
import { FieldSelect, TextBox } from '../fields.tsx';
import { freeName } from '../recipe-draft.ts';
import type { EditorProps, StepRoom } from '../step-room.ts';
import { labelOf, labelsOf } from '../step-words.ts';

type Along = StepOf<'along'>;

const Editor = ({ step, onChange, fields }: EditorProps<Along>) => {
  const { t } = useTranslation();
  const named = (what: Along['what'], of: string | undefined): Pick<Along, 'name' | 'label'> => {
    const label =
      of === undefined ? t(`data.along_${what}`) : t(`data.alongOf_${what}`, { field: labelOf(fields, of) });
    return {
      label,
      name: freeName(
        label,
        fields.map(({ name }) => name),
      ),
    };
  };
  const isOfNumbers = step.what === 'running' || step.what === 'share';
  return (
    <div className="flex flex-col gap-1.5">
      <Select
        label={t('data.alongWhat')}
        value={step.what}
        choices={ALONG.map((value) => ({ value, label: t(`data.along_${value}`) }))}
        onPick={(what) => {
          const { of: _, ...rest } = step;
          const of = what === 'number' ? undefined : step.of;
          onChange({ ...rest, what, ...(of === undefined ? {} : { of }), ...named(what, of) });
        }}
      />
      {step.what !== 'number' && (
        <FieldSelect
          label={t('data.alongOf')}
          fields={fields}
          {...(isOfNumbers ? { types: ['number'] as const } : {})}
          value={step.of ?? ''}
          onChange={(of) => onChange({ ...step, of, ...named(step.what, of) })}
        />
      )}
      <ForEach fields={fields} per={step.per} onChange={(per) => onChange(withPer(step, per))} />
      <TextBox
        label={t('data.columnLabel')}
        value={step.label ?? step.name}
        onChange={(label) => label.trim() !== '' && onChange({ ...step, label: label.trim() })}
      />
    </div>
  );
};

export const alongRoom: StepRoom<'along'> = {
  Editor,
  // A rank needs no order of the rows.
  begin: ({ fields }) => {
    const free = (name: string): string =>
      freeName(
        name,
        fields.map((field) => field.name),
      );
    const number = shownFields(fields).find(({ type }) => type === 'number')?.name;
    return number === undefined
      ? { step: 'along', what: 'number', name: free('row') }
      : { step: 'along', what: 'rank', of: number, name: free('rank') };
  },
  words: ({ what, of, per = [] }, { t, fields }) => [
    [of === undefined ? t(`data.along_${what}`) : t(`data.alongOf_${what}`, { field: labelOf(fields, of) })],
    ...(per.length > 0 ? [[t('data.alongPerOf', { fields: labelsOf(fields, per) })]] : []),
  ],
};
