import { NavLink, Outlet } from 'react-router';
import { useTranslation } from '../i18n/use-translation.ts';
import { ScreenHeader } from '../ui/screen-header.tsx';

const PLACES = ['registered', 'playground', 'token', 'errors'] as const;

const tabLook = ({ isActive }: { isActive: boolean }): string =>
  `flex h-full items-center border-b-2 px-1 ${isActive ? 'border-pine font-semibold' : 'border-transparent text-ink-2 hover:text-pine'}`;

/** For the developer of the host: how Gaveta is set up, and how its elements are put into pages. */
export const EmbeddingScreen = () => {
  const { t } = useTranslation();
  return (
    <div className="flex h-full flex-col">
      <ScreenHeader title={t('embedding.title')}>
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
      </ScreenHeader>
      <div className="min-h-0 flex-1 overflow-auto">
        <Outlet />
      </div>
    </div>
  );
};
