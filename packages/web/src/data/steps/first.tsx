import type { StepOf } from '@gaveta/core/internal';
import { useTranslation } from '../../i18n/use-translation.ts';
import { FieldSelect, TextBox } from '../fields.tsx';
import type { EditorProps, StepRoom } from '../step-room.ts';
import { labelsOf } from '../step-words.ts';

const Editor = ({ step, onChange, fields }: EditorProps<StepOf<'first'>>) => {
  const { t } = useTranslation();
  return (
    <div className="flex items-center gap-1.5">
      <TextBox
        label={t('data.count')}
        type="number"
        className="max-w-24"
        value={String(step.count)}
        onChange={(text) => onChange({ ...step, count: Math.max(1, Math.round(Number(text)) || 1) })}
      />
      {t('data.ofEach')}
      <FieldSelect
        label={t('data.ofEach')}
        fields={fields}
        blank={t('data.ofAll')}
        value={step.per?.[0] ?? ''}
        onChange={(name) => onChange({ step: 'first', count: step.count, ...(name ? { per: [name] } : {}) })}
      />
    </div>
  );
};

export const firstRoom: StepRoom<'first'> = {
  Editor,
  begin: () => ({ step: 'first', count: 10 }),
  words: ({ count, per }, { t, fields }) => [
    [String(count), ...(per?.length ? [t('data.ofEach'), labelsOf(fields, per)] : [])],
  ],
};
