import { createContext, type ReactNode, useContext, useState } from 'react';
import { useTranslation } from '../../i18n/use-translation.ts';

/** What is searched for among the settings, in small letters; empty shows all. */
export const SettingsSearch = createContext('');

const useHidden = (label: string): boolean => {
  const search = useContext(SettingsSearch);
  return search !== '' && !label.toLowerCase().includes(search);
};

interface SettingProps {
  label: string;
  children: ReactNode;
  /** A mark that a formula decides on it, which also turns that on and off. */
  formula?: { on: boolean; toggle: () => void } | undefined;
  /** Stands over its label instead of beside it. */
  wide?: boolean;
}

/** Tells whether a formula decides on a setting, and turns that on and off. */
export const FormulaMark = ({ label, on, toggle }: { label: string; on: boolean; toggle: () => void }) => {
  const { t } = useTranslation();
  return (
    <button
      type="button"
      aria-label={t('formula.bySetting', { label })}
      aria-pressed={on}
      title={t(on ? 'formula.isFormula' : 'formula.makeFormula')}
      className={`grid size-[15px] flex-none place-items-center rounded font-mono text-[10px] ${on ? 'bg-pine text-on-accent' : 'text-ink-3 opacity-60 hover:bg-desk hover:opacity-100 focus-visible:opacity-100'}`}
      onClick={toggle}
    >
      =
    </button>
  );
};

/** One setting of what is selected. */
export const Setting = ({ label, children, formula, wide }: SettingProps) => {
  if (useHidden(label)) return null;
  const mark = formula && <FormulaMark label={label} {...formula} />;
  if (wide)
    return (
      <div className="my-1">
        <span className="mb-0.5 flex items-center gap-1 text-ink-2">
          <span className="inline-block first-letter:uppercase">{label}</span> {mark}
        </span>
        {children}
      </div>
    );
  return (
    <div className="grid min-h-[30px] grid-cols-[90px_minmax(0,1fr)] items-center gap-1.5">
      <span className="flex min-w-0 items-center gap-1 text-ink-2">
        <span className="truncate" title={label}>
          {label}
        </span>
        {mark}
      </span>
      {children}
    </div>
  );
};

interface SectionProps {
  title: string;
  children: ReactNode;
  /** What few people need, behind one press. */
  more?: ReactNode;
  section?: string;
}

/** What stands at the foot of the section of content. */
export const ContentFoot = createContext<ReactNode>(null);

/** Settings of one kind: what people need first, the rest behind one press. Searching shows all. */
export const Section = ({ title, children, more, section }: SectionProps) => {
  const { t } = useTranslation();
  const search = useContext(SettingsSearch);
  const foot = useContext(ContentFoot);
  const [open, setOpen] = useState(false);
  return (
    <section aria-label={title} data-section={section} className="border-b border-rule-soft pb-1.5 last:border-b-0">
      <h3 className="mt-2 mb-1 text-[11px] font-semibold text-ink-2">{title}</h3>
      {children}
      {more && (open || search !== '') && more}
      {more && search === '' && (
        <button
          type="button"
          aria-expanded={open}
          className="mt-0.5 rounded text-[12px] text-pine hover:underline"
          onClick={() => setOpen(!open)}
        >
          {t(open ? 'designer.less' : 'designer.more', { title: title.toLowerCase() })}
        </button>
      )}
      {section === 'content' && foot}
    </section>
  );
};
