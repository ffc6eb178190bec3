import { type StepOf, shownFields } from '@gaveta/core/internal';
import { useTranslation } from '../../i18n/use-translation.ts';
import { EntryList, FieldSelect } from '../fields.tsx';
import type { EditorProps, StepRoom } from '../step-room.ts';
import { labelsOf } from '../step-words.ts';

const Editor = ({ step, onChange, fields }: EditorProps<StepOf<'distinct'>>) => {
  const { t } = useTranslation();
  return (
    <EntryList
      items={step.by ?? []}
      onChange={(by) => onChange(by.length > 0 ? { ...step, by } : { step: 'distinct' })}
      add={t('data.addDistinct')}
      make={() => shownFields(fields)[0]?.name ?? ''}
      name={(name) => name}
    >
      {(name, change) => <FieldSelect label={t('data.alikeIn')} fields={fields} value={name} onChange={change} />}
    </EntryList>
  );
};

export const distinctRoom: StepRoom<'distinct'> = {
  Editor,
  begin: () => ({ step: 'distinct' }),
  words: ({ by }, { t, fields }) => [by ? [t('data.alikeIn'), labelsOf(fields, by)] : [t('data.alikeInAll')]],
};
