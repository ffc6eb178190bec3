import type { Source } from '@gaveta/core/internal';
import { useTranslation } from 'react-i18next';
import { inputLook } from '../ui/controls.tsx';
import { type SourceChoice, sourceId, sourceOf } from './sources.ts';

interface SourceSelectProps {
  sources: readonly SourceChoice[];
  value: Source | null;
  onPick: (source: Source) => void;
  label?: string;
}

export const SourceSelect = ({ sources, value, onPick, label }: SourceSelectProps) => {
  const { t } = useTranslation();
  const groups = [...new Set(sources.map((s) => s.group))];
  const id = value ? sourceId(value) : '';
  return (
    <select
      aria-label={label ?? t('data.rowsFrom')}
      className={inputLook}
      value={id}
      onChange={(event) => onPick(sourceOf(event.target.value))}
    >
      {!sources.some((s) => s.id === id) && <option value={id}>{id === '' ? t('data.chooseSource') : id}</option>}
      {groups.map((group) => (
        <optgroup key={group} label={group}>
          {sources
            .filter((s) => s.group === group)
            .map((s) => (
              <option key={s.id} value={s.id}>
                {s.label}
              </option>
            ))}
        </optgroup>
      ))}
    </select>
  );
};
