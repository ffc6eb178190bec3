import { type ReactNode, useEffect, useState } from 'react';
import { useTranslation } from '../i18n/use-translation.ts';
import { inputLook } from './controls.tsx';
import { onceReleased } from './press.ts';

interface CommitProps {
  label: string;
  value: string;
  mono?: boolean;
  placeholder?: string;
  className?: string;
  multiline?: boolean;
  /** Most characters; who types more is told. */
  most?: number;
  /** What there is to say about what is typed. */
  hint?: (typed: string) => string | null;
  onCommit: (value: string) => void;
}

/** Words about what is typed into a box, below it. */
export const Hint = ({ children }: { children: string | null }) =>
  children === null ? null : (
    <span
      role="alert"
      className="absolute start-0 top-full z-30 mt-1 block w-max max-w-72 rounded border border-rust/40 bg-paper px-2 py-1 text-[12px] font-normal whitespace-normal text-rust-strong shadow"
    >
      {children}
    </span>
  );

/** A text box that takes effect on Enter or when it is left, and goes back on Escape. */
export const CommitBox = (props: CommitProps) => {
  const { label, value, mono, placeholder, className = '', multiline, most, hint, onCommit } = props;
  const { t } = useTranslation();
  const [draft, setDraft] = useState(value);
  useEffect(() => setDraft(value), [value]);
  const shared = {
    'aria-label': label,
    placeholder,
    spellCheck: !mono,
    maxLength: most,
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
  const isFull = most !== undefined && draft.length >= most;
  const said = draft === value ? null : isFull ? t('app.mostCharacters', { most }) : (hint?.(draft) ?? null);
  const box = (
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
  if (most === undefined && !hint) return box;
  return (
    <span className="relative block">
      {box}
      <Hint>{said}</Hint>
    </span>
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

/** Milliseconds that words about a number stay. */
const SAID_FOR = 6000;

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
  const { t, i18n } = useTranslation();
  const [said, setSaid] = useState<string | null>(null);
  useEffect(() => {
    if (said === null) return;
    const timer = setTimeout(() => setSaid(null), SAID_FOR);
    return () => clearTimeout(timer);
  }, [said]);
  const commit = (box: HTMLInputElement): void => {
    const text = box.value.trim();
    const number = Number(text.replace(',', '.'));
    const isNumber = text !== '' && Number.isFinite(number);
    const next = isNumber ? Math.min(most, Math.max(least, number)) : value;
    const shown = (bound: number): string => bound.toLocaleString(i18n.language);
    const bounds = { least: shown(least), most: shown(most), unit };
    if (text !== '' && !isNumber) setSaid(t('app.noNumber', { text: text.slice(0, 20) }));
    else setSaid(isNumber && next !== number ? t('app.outOfBounds', bounds).trim() : null);
    if (text === '' && value !== undefined && onClear) onClear();
    else if (next !== undefined && next !== value) onCommit(next);
    // The box shows what holds: a number within its bounds, or the one before.
    if (text !== '' || !onClear) box.value = next === undefined ? '' : String(next);
  };
  return (
    <span className="relative flex min-w-0 items-center gap-1">
      <input
        // A new value from elsewhere makes a new box, so that what is typed is never mixed with it.
        key={value}
        aria-label={label}
        className={`${inputLook} min-w-0`}
        inputMode="decimal"
        placeholder={placeholder}
        defaultValue={value ?? ''}
        onFocus={() => setSaid(null)}
        onBlur={({ target }) => onceReleased(() => commit(target))}
        onKeyDown={(event) => {
          if (event.key === 'Enter') commit(event.currentTarget);
        }}
      />
      {unit && <span className="text-ink-3">{unit}</span>}
      <Hint>{said}</Hint>
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
