import { type DataType, type Field, shownFields } from '@gaveta/core/internal';
import { useTranslation } from '../i18n/use-translation.ts';
import { EntryList, FieldSelect } from './fields.tsx';
import { labelOf } from './step-words.ts';

interface FieldTicksProps {
  /** Of the list. */
  label: string;
  fields: readonly Field[];
  /** Only fields of these types; those chosen are there all the same. */
  types?: readonly DataType[] | undefined;
  chosen: readonly string[];
  onChange: (chosen: string[]) => void;
}

/** Several fields, ticked in a list; they keep the order in which they are ticked. */
export const FieldTicks = ({ label, fields, types, chosen, onChange }: FieldTicksProps) => {
  const { t } = useTranslation();
  const shown = shownFields(fields).filter(({ name, type }) => !types || types.includes(type) || chosen.includes(name));
  const gone = chosen.filter((name) => !shown.some((field) => field.name === name));
  return (
    <ul aria-label={label} className="flex max-h-52 flex-col overflow-auto rounded border border-rule px-2 py-1">
      {[...shown, ...gone.map((name) => ({ name, label: t('data.gone', { name }) }))].map((field) => (
        <li key={field.name}>
          <label className="flex items-center gap-1.5 py-0.5">
            <input
              type="checkbox"
              checked={chosen.includes(field.name)}
              onChange={(event) =>
                onChange(event.target.checked ? [...chosen, field.name] : chosen.filter((name) => name !== field.name))
              }
            />
            {field.label}
          </label>
        </li>
      ))}
    </ul>
  );
};

interface ForEachProps {
  fields: readonly Field[];
  per: readonly string[] | undefined;
  /** Undefined: for all rows together. */
  onChange: (per: string[] | undefined) => void;
}

/** Fields for each of whose values something is worked out by itself. */
export const ForEach = ({ fields, per = [], onChange }: ForEachProps) => {
  const { t } = useTranslation();
  return (
    <EntryList
      items={per}
      onChange={(next) => onChange(next.length > 0 ? next : undefined)}
      add={t('data.alongPer')}
      make={() => shownFields(fields).find(({ name }) => !per.includes(name))?.name ?? ''}
      name={(name) => labelOf(fields, name)}
    >
      {(name, change) => <FieldSelect label={t('data.alongPer')} fields={fields} value={name} onChange={change} />}
    </EntryList>
  );
};

/** A step for each value of some fields, or for all rows together. */
export const withPer = <S extends { per?: string[] | undefined }>(step: S, per: string[] | undefined): S => {
  const { per: _, ...rest } = step;
  return { ...rest, ...(per ? { per } : {}) } as S;
};
