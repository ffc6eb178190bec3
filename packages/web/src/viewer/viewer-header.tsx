import { ChevronLeft, PanelLeft, Search } from 'lucide-react';
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { useIsHidden } from '../embed/settings.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { IconButton } from '../ui/controls.tsx';
import type { Find } from './find/use-find.ts';
import type { Links } from './links/use-links.ts';
import type { Wing } from './wing/use-wing.ts';

interface HeaderProps {
  /** Where the way back leads; null inside a host’s page. */
  home: string | null;
  links: Links;
  name: string;
  /** Null where there is nothing to show in it. */
  wing: Wing | null;
  /** Null where the host leaves it out. */
  find: Find | null;
  /** What changes how the report is shown. */
  tools: ReactNode;
  /** How the run is getting on. */
  words: ReactNode;
  /** What can be done with the report. */
  children: ReactNode;
}

/** The strip above a report: the way back, its name, and what can be done with it. */
export const ViewerHeader = ({ home, links, name, wing, find, tools, words, children }: HeaderProps) => {
  const { t } = useTranslation();
  const isHidden = useIsHidden();
  const { cameFrom } = links;
  return (
    <header className="flex h-11 flex-none items-center gap-2.5 border-b border-rule px-3.5 max-sm:gap-1.5 max-sm:px-2">
      {cameFrom ? (
        <button
          type="button"
          className="flex min-w-0 items-center text-ink-2 hover:text-pine"
          title={t('viewer.backTo', { name: cameFrom.name })}
          onClick={links.back}
        >
          <ChevronLeft size={15} aria-hidden className="flex-none" />
          <span className="truncate">{cameFrom.name}</span>
        </button>
      ) : (
        home !== null && (
          <Link to={home} className="flex flex-none items-center text-ink-2 hover:text-pine">
            <ChevronLeft size={15} aria-hidden /> <span className="max-md:sr-only">{t('app.reports')}</span>
          </Link>
        )
      )}
      {wing && (
        <IconButton
          label={t(wing.isOpen ? 'viewer.wing.close' : 'viewer.wing.open')}
          aria-expanded={wing.isOpen}
          onClick={wing.toggle}
        >
          <PanelLeft size={16} />
        </IconButton>
      )}
      {find && (
        <IconButton label={t('viewer.find.open')} aria-pressed={find.isOpen} onClick={find.open}>
          <Search size={16} />
        </IconButton>
      )}
      {tools}
      {!isHidden('title') && <h1 className="truncate text-[14px] font-semibold">{name}</h1>}
      <span className="min-w-0 max-md:sr-only">{words}</span>
      <span className="flex-1" />
      {children}
    </header>
  );
};
