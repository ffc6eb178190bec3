import { identifierOf } from '@gaveta/core/internal';
import { useState } from 'react';
import { useTranslation } from '../i18n/use-translation.ts';
import { CommitBox } from './commit.tsx';

/** Names that mean something of their own in formulas. */
const RESERVED: ReadonlySet<string> = new Set(['report', 'page', 'parameters', 'true', 'false']);

interface NameBoxProps {
  label: string;
  value: string;
  /** Names that others have. */
  taken: readonly string[];
  /** Called with a free name that formulas can say. */
  onRename: (name: string) => void;
}

/** The name by which formulas reach something. Says why when one cannot be taken. */
export const NameBox = ({ label, value, taken, onRename }: NameBoxProps) => {
  const { t } = useTranslation();
  const [refused, setRefused] = useState<string | null>(null);
  const take = (text: string): void => {
    const name = identifierOf(text);
    const isTaken = name !== null && name !== value && (taken.includes(name) || RESERVED.has(name.toLowerCase()));
    setRefused(name === null ? t('names.unfit') : isTaken ? t('names.taken', { name }) : null);
    if (name !== null && name !== value && !isTaken) onRename(name);
  };
  return (
    <span className="block min-w-0">
      <CommitBox label={label} mono value={value} onCommit={take} />
      {refused && (
        <span role="alert" className="block text-[11.5px] text-rust">
          {refused}
        </span>
      )}
    </span>
  );
};
