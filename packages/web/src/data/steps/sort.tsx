import type { StepOf } from '@gaveta/core/internal';
import { useTranslation } from 'react-i18next';
import { inputLook } from '../../ui/controls.tsx';
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
          <select
            aria-label={t('data.direction')}
            className={`${inputLook} max-w-36`}
            value={by.descending ? 'down' : 'up'}
            onChange={(event) =>
              change({ field: by.field, ...(event.target.value === 'down' ? { descending: true } : {}) })
            }
          >
            <option value="up">{t('data.up')}</option>
            <option value="down">{t('data.down')}</option>
          </select>
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
