import type { ReactNode } from 'react';
import { useTranslation } from '../../i18n/use-translation.ts';
import { saidKey } from './draft.ts';

interface SettingProps {
  label: string;
  help?: string | undefined;
  /** What is wrong with its value. */
  problem?: { message?: string | undefined } | undefined;
  children: ReactNode;
}

/** A labelled line of a connection’s form, with what is wrong below it. */
export const Setting = ({ label, help, problem, children }: SettingProps) => {
  const { t } = useTranslation();
  const words = problem && saidKey(problem.message);
  return (
    // biome-ignore lint/a11y/noLabelWithoutControl: the control is the child
    <label className="grid grid-cols-[140px_1fr] items-start gap-2">
      <span className="pt-1 text-ink-2">{label}</span>
      <span className={words ? 'setting-wrong' : ''}>
        {children}
        {words && (
          <span role="alert" className="mt-0.5 block text-[11.5px] text-rust">
            {t(`data.${words}`)}
          </span>
        )}
        {help && <span className="mt-0.5 block text-[11.5px] text-ink-3">{help}</span>}
      </span>
    </label>
  );
};
