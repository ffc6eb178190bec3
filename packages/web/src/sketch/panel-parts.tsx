import { ArrowDownNarrowWide, ArrowUpNarrowWide, Trash2 } from 'lucide-react';
import { type ReactNode, useState } from 'react';
import { useTranslation } from '../i18n/use-translation.ts';
import { CommitBox } from '../ui/commit.tsx';
import { Button, IconButton, Line } from '../ui/controls.tsx';
import { FilterPanel, type Subject } from './filter.tsx';

interface SortProps {
  type: 'number' | 'date' | 'text';
  /** The way in which it is sorted; null for neither. */
  isDescending: boolean | null;
  onPick: (descending: boolean) => void;
}

/** Both directions of sorting, pressed where they hold; the likelier one first. */
export const SortButtons = ({ type, isDescending, onPick }: SortProps) => {
  const { t } = useTranslation();
  const ways = type === 'number' ? ([true, false] as const) : ([false, true] as const);
  return (
    <fieldset aria-label={t('sketch.sort')} className="flex gap-1">
      {ways.map((descending) => {
        const isOn = descending === isDescending;
        const Icon = descending ? ArrowDownNarrowWide : ArrowUpNarrowWide;
        return (
          <Button
            key={String(descending)}
            aria-pressed={isOn}
            className={`flex-1 justify-center ${isOn ? 'border-pine! bg-pine-soft!' : ''}`}
            onClick={() => onPick(descending)}
          >
            <Icon size={14} aria-hidden /> {t(`sketch.sort_${type}_${descending ? 'descending' : 'ascending'}`)}
          </Button>
        );
      })}
    </fieldset>
  );
};

/** A way in to what rows are kept by, which opens where it stands. */
export const KeepOnly = ({ about, words }: { about: Subject; words?: string }) => {
  const { t } = useTranslation();
  const [open, setOpen] = useState(false);
  if (open) return <FilterPanel about={about} />;
  return (
    <Button className="justify-center" onClick={() => setOpen(true)}>
      {words ?? t('sketch.keepOnlyDots')}
    </Button>
  );
};

/** The name of a column or group; undefined for that of its field. */
export const RenameLine = ({ label, onRename }: { label: string; onRename: (label: string | undefined) => void }) => {
  const { t } = useTranslation();
  return (
    <Line label={t('sketch.rename')}>
      <CommitBox
        label={t('sketch.rename')}
        value={label}
        most={200}
        onCommit={(next) => onRename(next.trim() === '' ? undefined : next.trim())}
      />
    </Line>
  );
};

interface FootProps {
  /** What a column or group can become instead. */
  turns: readonly { words: string; onPick: () => void }[];
  remove: { words: string; onPick: () => void };
  /** What moves or hides it. */
  children?: ReactNode;
}

/** The last line of a panel: what a column or group becomes, where it goes, and its end. */
export const PanelFoot = ({ turns, remove, children }: FootProps) => (
  <div className="flex items-center gap-1 border-t border-rule-soft pt-2">
    {turns.map(({ words, onPick }) => (
      <Button key={words} look="quiet" className="px-2" onClick={onPick}>
        {words}
      </Button>
    ))}
    <span className="flex-1" />
    {children}
    <IconButton label={remove.words} onClick={remove.onPick}>
      <Trash2 size={15} />
    </IconButton>
  </div>
);
