import type { Source } from '@gaveta/core/internal';
import { useTranslation } from '../i18n/use-translation.ts';
import { Select } from '../ui/select.tsx';
import { type SourceChoice, sourceId, sourceOf } from './sources.ts';

interface SourceSelectProps {
  sources: readonly SourceChoice[];
  value: Source | null;
  onPick: (source: Source) => void;
  label?: string;
}

export const SourceSelect = ({ sources, value, onPick, label }: SourceSelectProps) => {
  const { t } = useTranslation();
  return (
    <Select
      label={label ?? t('data.rowsFrom')}
      value={value ? sourceId(value) : ''}
      blank={t('data.chooseSource')}
      choices={sources.map((s) => ({ value: s.id, label: s.label, group: s.group }))}
      onPick={(id) => onPick(sourceOf(id))}
    />
  );
};
