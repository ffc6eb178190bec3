import type { DataType, Field } from '@gaveta/core/internal';
import { X } from 'lucide-react';
import { type ReactNode, useEffect, useState } from 'react';
import { useTranslation } from '../i18n/use-translation.ts';
import { IconButton, inputLook } from '../ui/controls.tsx';
import { onceReleased } from '../ui/press.ts';
import { Select } from '../ui/select.tsx';

interface FieldSelectProps {
  fields: readonly Field[];
  value: string;
  onChange: (name: string) => void;
  label: string;
  /** Only fields of these types. */
  types?: readonly DataType[] | undefined;
  /** An entry for no field. */
  blank?: string | undefined;
  className?: string | undefined;
}

/** A choice of one field. One that is gone stays visible, so that it can be told and replaced. */
export const FieldSelect = ({ fields, value, onChange, label, types, blank, className = '' }: FieldSelectProps) => {
  const { t } = useTranslation();
  const shown = fields.filter((f) => !f.hidden && (!types || types.includes(f.type)));
  const isGone = value !== '' && !shown.some((f) => f.name === value);
  return (
    <Select
      label={label}
      className={`${isGone ? 'border-rust text-rust' : ''} ${className}`}
      value={value}
      blank={t('data.chooseField')}
      choices={[
        ...(blank !== undefined ? [{ value: '', label: blank }] : []),
        ...(isGone ? [{ value, label: t('data.gone', { name: value }) }] : []),
        ...shown.map((f) => ({ value: f.name, label: f.label })),
      ]}
      onPick={onChange}
    />
  );
};

interface TextBoxProps {
  value: string;
  onChange: (value: string) => void;
  label: string;
  placeholder?: string | undefined;
  type?: string | undefined;
  className?: string | undefined;
  list?: string | undefined;
}

/** A text box whose text is taken over when it is left or Enter is pressed, so that each change is one step to undo. */
export const TextBox = ({ value, onChange, label, placeholder, type = 'text', className = '', list }: TextBoxProps) => {
  const [draft, setDraft] = useState(value);
  useEffect(() => setDraft(value), [value]);
  const take = (): void => {
    if (draft === value) return;
    onChange(draft);
    // What is not taken over goes back; what is comes as the new value.
    setDraft(value);
  };
  return (
    <input
      aria-label={label}
      className={`${inputLook} ${className}`}
      type={type}
      value={draft}
      placeholder={placeholder}
      list={list}
      onChange={(event) => {
        setDraft(event.target.value);
        // A day that is picked is complete at once.
        if (type === 'date') onChange(event.target.value);
      }}
      onBlur={() => onceReleased(take)}
      onKeyDown={(event) => {
        if (event.key === 'Enter') take();
      }}
    />
  );
};

/** A box with its name in sight above it. */
export const Captioned = ({ words, children }: { words: string; children: ReactNode }) => (
  <span className="flex min-w-0 flex-col gap-0.5">
    <span aria-hidden className="text-[11.5px] text-ink-2">
      {words}
    </span>
    {children}
  </span>
);

interface RowsProps<T> {
  items: readonly T[];
  onChange: (items: T[]) => void;
  add: string;
  make: () => T;
  /** What one entry is called, for taking it out. */
  name: (item: T) => string;
  children: (item: T, change: (next: T) => void) => ReactNode;
}

/** A list of entries, each in a line with a way to take it out, and a button for one more. */
export const EntryList = <T,>({ items, onChange, add, make, name, children }: RowsProps<T>) => {
  const { t } = useTranslation();
  return (
    <div className="flex flex-col gap-1.5">
      {items.map((item, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: entries are told apart by their place
        <div key={i} className="flex items-center gap-1.5">
          {children(item, (next) => onChange(items.map((old, at) => (at === i ? next : old))))}
          <IconButton
            label={t('data.takeOut', { name: name(item) })}
            onClick={() => onChange(items.filter((_, at) => at !== i))}
          >
            <X size={14} />
          </IconButton>
        </div>
      ))}
      <button
        type="button"
        className="self-start rounded px-1.5 py-0.5 text-pine hover:bg-pine-soft"
        onClick={() => onChange([...items, make()])}
      >
        + {add}
      </button>
    </div>
  );
};

interface PairsProps {
  here: readonly Field[];
  there: readonly Field[];
  on: readonly { here: string; there: string }[];
  onChange: (on: { here: string; there: string }[]) => void;
}

/** Pairs of fields whose values must be equal. */
export const Pairs = ({ here, there, on, onChange }: PairsProps) => {
  const { t } = useTranslation();
  return (
    <EntryList
      items={on}
      onChange={onChange}
      add={t('data.addPair')}
      make={() => ({ here: '', there: '' })}
      name={(pair) => pair.here}
    >
      {(pair, change) => (
        <>
          <FieldSelect
            label={t('data.fieldHere')}
            fields={here}
            value={pair.here}
            onChange={(name) => change({ ...pair, here: name })}
          />
          =
          <FieldSelect
            label={t('data.fieldThere')}
            fields={there}
            value={pair.there}
            onChange={(name) => change({ ...pair, there: name })}
          />
        </>
      )}
    </EntryList>
  );
};
