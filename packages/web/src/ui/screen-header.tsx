import { ChevronLeft } from 'lucide-react';
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { useTranslation } from '../i18n/use-translation.ts';

/** The strip above a screen that is reached from the list of reports: the way back, the title, and what the screen adds. */
export const ScreenHeader = ({ title, children }: { title: string; children: ReactNode }) => {
  const { t } = useTranslation();
  return (
    <header className="flex h-11 flex-none items-center gap-3 border-b border-rule px-3.5">
      <Link to="/" className="flex items-center text-ink-2 hover:text-pine">
        <ChevronLeft size={15} aria-hidden /> {t('app.reports')}
      </Link>
      <h1 className="text-[14px] font-semibold">{title}</h1>
      {children}
    </header>
  );
};
