import { useQuery } from '@tanstack/react-query';
import { Link, Outlet, useLocation } from 'react-router';
import { deliveryQueries } from '../api/deliveries.ts';
import { queries } from '../api/queries.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { Questions } from '../ui/confirm.tsx';
import { ScreenHeader } from '../ui/screen-header.tsx';

const tabLook = (isActive: boolean): string =>
  `flex h-full flex-none items-center border-b-2 px-1 ${isActive ? 'border-pine font-semibold' : 'border-transparent text-ink-2 hover:text-pine'}`;

/** Reports that come by themselves: when they go, what became of them, and what stands in for a mail server and a printer. */
export const DeliveriesScreen = () => {
  const { t } = useTranslation();
  const session = useQuery(queries.session());
  const rights = session.data?.rights ?? [];
  const mayDeliver = rights.includes('deliver');
  const targets = useQuery({ ...deliveryQueries.targets(), enabled: mayDeliver });
  const { outbox = false, tray = false } = targets.data?.standIns ?? {};
  const isManager = rights.includes('manage');
  const places = [
    ...(mayDeliver ? (['deliveries'] as const) : []),
    'kept' as const,
    ...(outbox && isManager ? (['outbox'] as const) : []),
    ...(tray && isManager ? (['tray'] as const) : []),
  ];
  const [, first = '', second = ''] = useLocation()
    .pathname.replace(/^\/embed/, '')
    .split('/');
  // What is made and read of single deliveries belongs to their list.
  const here = first === 'kept' ? 'kept' : (places.find((place) => place === second) ?? 'deliveries');
  return (
    <div className="flex h-full flex-col">
      <ScreenHeader title={t('deliveries.title')}>
        <nav aria-label={t('deliveries.title')} className="ms-3 flex h-full min-w-0 gap-4 overflow-x-auto">
          {places.map((place) => (
            <Link
              key={place}
              to={place === 'deliveries' ? '/deliveries' : place === 'kept' ? '/kept' : `/deliveries/${place}`}
              aria-current={place === here ? 'page' : undefined}
              className={tabLook(place === here)}
            >
              {t(`deliveries.tab_${place}`)}
            </Link>
          ))}
        </nav>
      </ScreenHeader>
      <main className="min-h-0 flex-1 overflow-auto">
        <Outlet />
      </main>
      <Questions />
    </div>
  );
};
