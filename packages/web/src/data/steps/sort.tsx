import type { StepOf } from '@gaveta/core/internal';
import { useTranslation } from '../../i18n/use-translation.ts';
import { Select } from '../../ui/select.tsx';
import { EntryList, FieldSelect } from '../fields.tsx';
import type { EditorProps, StepRoom } from '../step-room.ts';
import { labelOf } from '../step-words.ts';

const Editor = ({ step, onChange, fields }: EditorProps<StepOf<'sort'>>) => {
  const { t } = useTranslation();
  return (
    <EntryList
      items={step.by}
      onChange={(by) => onChange({ ...step, by })}
      add={t('data.addSort')}
      make={(): StepOf<'sort'>['by'][number] => ({ field: '' })}
      name={(by) => by.field}
    >
      {(by, change) => (
        <>
          <FieldSelect
            label={t('data.sortBy')}
            fields={fields}
            value={by.field}
            onChange={(field) => change({ ...by, field })}
          />
          <Select
            label={t('data.direction')}
            className="max-w-36"
            value={by.descending ? 'down' : 'up'}
            choices={(['up', 'down'] as const).map((way) => ({ value: way, label: t(`data.${way}`) }))}
            onPick={(way) => change({ field: by.field, ...(way === 'down' ? { descending: true } : {}) })}
          />
        </>
      )}
    </EntryList>
  );
};

export const sortRoom: StepRoom<'sort'> = {
  Editor,
  begin: ({ first }) => ({ step: 'sort', by: [{ field: first }] }),
  words: ({ by }, { fields }) => [
    [by.map(({ field, descending }) => `${labelOf(fields, field)} ${descending ? '↓' : '↑'}`).join(', ')],
  ],
};
