import { ChevronLeft } from 'lucide-react';
import { Link, NavLink, Outlet } from 'react-router';
import { useTranslation } from '../i18n/use-translation.ts';

const PLACES = ['registered', 'playground', 'token', 'errors'] as const;

const tabLook = ({ isActive }: { isActive: boolean }): string =>
  `flex h-full items-center border-b-2 px-1 ${isActive ? 'border-pine font-semibold' : 'border-transparent text-ink-2 hover:text-pine'}`;

/** For the developer of the host: how Gaveta is set up, and how its elements are put into pages. */
export const EmbeddingScreen = () => {
  const { t } = useTranslation();
  return (
    <div className="flex h-full flex-col">
      <header className="flex h-11 flex-none items-center gap-3 border-b border-rule px-3.5">
        <Link to="/" className="flex items-center text-ink-2 hover:text-pine">
          <ChevronLeft size={15} aria-hidden /> {t('app.reports')}
        </Link>
        <h1 className="text-[14px] font-semibold">{t('embedding.title')}</h1>
        <nav aria-label={t('embedding.title')} className="ms-3 flex h-full gap-4 overflow-x-auto">
          {PLACES.map((place) => (
            <NavLink
              key={place}
              to={place === 'registered' ? '/embedding' : `/embedding/${place}`}
              end
              className={tabLook}
            >
              {t(`embedding.${place}`)}
            </NavLink>
          ))}
        </nav>
      </header>
      <div className="min-h-0 flex-1 overflow-auto">
        <Outlet />
      </div>
    </div>
  );
};
