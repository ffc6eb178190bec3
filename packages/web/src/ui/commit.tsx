import { type ReactNode, useEffect, useState } from 'react';
import { inputLook } from './controls.tsx';
import { onceReleased } from './press.ts';

interface CommitProps {
  label: string;
  value: string;
  mono?: boolean;
  placeholder?: string;
  className?: string;
  multiline?: boolean;
  onCommit: (value: string) => void;
}

/** A text box that takes effect on Enter or when it is left, and goes back on Escape. */
export const CommitBox = ({ label, value, mono, placeholder, className = '', multiline, onCommit }: CommitProps) => {
  const [draft, setDraft] = useState(value);
  useEffect(() => setDraft(value), [value]);
  const shared = {
    'aria-label': label,
    placeholder,
    spellCheck: !mono,
    value: draft,
    onBlur: () => {
      if (draft === value) return;
      onceReleased(() => {
        onCommit(draft);
        // What is not taken over goes back; what is comes as the new value.
        setDraft(value);
      });
    },
  };
  if (multiline)
    return (
      <textarea
        {...shared}
        rows={2}
        className={`w-full rounded border border-rule bg-paper px-2 py-1 ${className}`}
        onChange={(event) => setDraft(event.target.value)}
      />
    );
  return (
    <input
      {...shared}
      className={`${inputLook} ${mono ? 'font-mono text-[12px]' : ''} ${className}`}
      onChange={(event) => setDraft(event.target.value)}
      onKeyDown={(event) => {
        if (event.key === 'Enter') event.currentTarget.blur();
        if (event.key === 'Escape') setDraft(value);
      }}
    />
  );
};

interface NumberProps {
  label: string;
  /** Undefined when several selected items differ, or when nothing is set. */
  value: number | undefined;
  unit?: string;
  least?: number;
  most?: number;
  placeholder?: string | undefined;
  /** Called with null when the box is emptied and may be. */
  onCommit: (value: number) => void;
  onClear?: () => void;
}

export const NumberBox = ({
  label,
  value,
  unit = 'mm',
  least = 0,
  most = 5000,
  placeholder,
  onCommit,
  onClear,
}: NumberProps) => {
  const commit = (box: HTMLInputElement): void => {
    const text = box.value.trim();
    const number = Number(text.replace(',', '.'));
    const isNumber = text !== '' && Number.isFinite(number);
    const next = isNumber ? Math.min(most, Math.max(least, number)) : value;
    if (text === '' && value !== undefined && onClear) onClear();
    else if (next !== undefined && next !== value) onCommit(next);
    // The box shows what holds: a number within its bounds, or the one before.
    if (text !== '' || !onClear) box.value = next === undefined ? '' : String(next);
  };
  return (
    <span className="flex min-w-0 items-center gap-1">
      <input
        // A new value from elsewhere makes a new box, so that what is typed is never mixed with it.
        key={value}
        aria-label={label}
        className={`${inputLook} min-w-0`}
        inputMode="decimal"
        placeholder={placeholder}
        defaultValue={value ?? ''}
        onBlur={({ target }) => onceReleased(() => commit(target))}
        onKeyDown={(event) => {
          if (event.key === 'Enter') commit(event.currentTarget);
        }}
      />
      {unit && <span className="text-ink-3">{unit}</span>}
    </span>
  );
};

interface ToggleProps {
  label: string;
  on: boolean;
  onClick: () => void;
  children: React.ReactNode;
}

/** A small button that is pressed or not. */
export const Toggle = ({ label, on, onClick, children }: ToggleProps) => (
  <button
    type="button"
    aria-label={label}
    title={label}
    aria-pressed={on}
    className={`grid h-[26px] min-w-7 flex-1 place-items-center rounded border px-1 ${on ? 'border-ink bg-ink text-paper' : 'border-rule bg-paper'}`}
    onClick={onClick}
  >
    {children}
  </button>
);

export const Check = ({
  label,
  checked,
  onChange,
  beside,
}: {
  label: string;
  checked: boolean;
  onChange: (on: boolean) => void;
  beside?: ReactNode;
}) => (
  <div className="flex min-h-[26px] items-center gap-1.5">
    <label className="flex items-center gap-1.5">
      <input type="checkbox" checked={checked} onChange={(event) => onChange(event.target.checked)} />
      {label}
    </label>
    {beside}
  </div>
);
