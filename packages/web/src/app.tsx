import { useQuery } from '@tanstack/react-query';
import { lazy, type ReactNode, Suspense, useEffect, useState } from 'react';
import { Navigate, Outlet, Route, Routes } from 'react-router';
import { ApiFailure } from './api/client.ts';
import { queries } from './api/queries.ts';
import { joinHost, tellHost } from './embed/frame.ts';
import { useTranslation } from './i18n/use-translation.ts';
import { ConnectionNotice } from './ui/connection-notice.tsx';
import { Notice } from './ui/controls.tsx';
import { Failure } from './ui/failure.tsx';

/** Each screen is a part of its own, which a browser fetches when it is opened. */
const ConnectionScreen = lazy(() =>
  import('./data/connections/connection-screen.tsx').then(({ ConnectionScreen }) => ({ default: ConnectionScreen })),
);
const DataScreen = lazy(() => import('./data/data-screen.tsx').then(({ DataScreen }) => ({ default: DataScreen })));
const ModelMap = lazy(() => import('./data/model-map.tsx').then(({ ModelMap }) => ({ default: ModelMap })));
const RecipeScreen = lazy(() =>
  import('./data/recipe-screen.tsx').then(({ RecipeScreen }) => ({ default: RecipeScreen })),
);
const RelateScreen = lazy(() =>
  import('./data/relate-screen.tsx').then(({ RelateScreen }) => ({ default: RelateScreen })),
);
const TableScreen = lazy(() => import('./data/table-screen.tsx').then(({ TableScreen }) => ({ default: TableScreen })));
const DeliveriesScreen = lazy(() =>
  import('./deliveries/deliveries-screen.tsx').then(({ DeliveriesScreen }) => ({ default: DeliveriesScreen })),
);
const DeliveryList = lazy(() =>
  import('./deliveries/delivery-list.tsx').then(({ DeliveryList }) => ({ default: DeliveryList })),
);
const DeliveryScreen = lazy(() =>
  import('./deliveries/delivery-screen.tsx').then(({ DeliveryScreen }) => ({ default: DeliveryScreen })),
);
const DeliveryForm = lazy(() =>
  import('./deliveries/form/delivery-form.tsx').then(({ DeliveryForm }) => ({ default: DeliveryForm })),
);
const OutboxPage = lazy(() => import('./deliveries/outbox.tsx').then(({ OutboxPage }) => ({ default: OutboxPage })));
const TrayPage = lazy(() => import('./deliveries/tray.tsx').then(({ TrayPage }) => ({ default: TrayPage })));
const KeptList = lazy(() => import('./deliveries/kept-list.tsx').then(({ KeptList }) => ({ default: KeptList })));
const KeptScreen = lazy(() =>
  import('./deliveries/kept-screen.tsx').then(({ KeptScreen }) => ({ default: KeptScreen })),
);
const CompareKept = lazy(() =>
  import('./deliveries/compare-kept.tsx').then(({ CompareKept }) => ({ default: CompareKept })),
);
const DesignerScreen = lazy(() =>
  import('./designer/designer-screen.tsx').then(({ DesignerScreen }) => ({ default: DesignerScreen })),
);
const EmbeddingScreen = lazy(() =>
  import('./embedding/embedding-screen.tsx').then(({ EmbeddingScreen }) => ({ default: EmbeddingScreen })),
);
const Registered = lazy(() => import('./embedding/registered.tsx').then(({ Registered }) => ({ default: Registered })));
const Playground = lazy(() => import('./embedding/playground.tsx').then(({ Playground }) => ({ default: Playground })));
const TokenLook = lazy(() => import('./embedding/token-look.tsx').then(({ TokenLook }) => ({ default: TokenLook })));
const Errors = lazy(() => import('./embedding/errors.tsx').then(({ Errors }) => ({ default: Errors })));
const LibraryScreen = lazy(() =>
  import('./library/library-screen.tsx').then(({ LibraryScreen }) => ({ default: LibraryScreen })),
);
const RevisionsScreen = lazy(() =>
  import('./revisions/revisions-screen.tsx').then(({ RevisionsScreen }) => ({ default: RevisionsScreen })),
);
const SketchScreen = lazy(() =>
  import('./sketch/sketch-screen.tsx').then(({ SketchScreen }) => ({ default: SketchScreen })),
);
const PictureScreen = lazy(() =>
  import('./house/picture-screen.tsx').then(({ PictureScreen }) => ({ default: PictureScreen })),
);
const ThemeScreen = lazy(() =>
  import('./house/theme-screen.tsx').then(({ ThemeScreen }) => ({ default: ThemeScreen })),
);
const RecordScreen = lazy(() =>
  import('./library/record-screen.tsx').then(({ RecordScreen }) => ({ default: RecordScreen })),
);
const SharedScreen = lazy(() =>
  import('./viewer/shared-screen.tsx').then(({ SharedScreen }) => ({ default: SharedScreen })),
);
const StartScreen = lazy(() =>
  import('./start/start-screen.tsx').then(({ StartScreen }) => ({ default: StartScreen })),
);
const ViewerScreen = lazy(() =>
  import('./viewer/viewer-screen.tsx').then(({ ViewerScreen }) => ({ default: ViewerScreen })),
);

/** What is shown while a screen is fetched. */
const Screen = () => {
  const { t } = useTranslation();
  return (
    <Suspense fallback={<Notice>{t('app.loading')}</Notice>}>
      <Outlet />
    </Suspense>
  );
};

/** Shows its screens only to callers whom the server knows. */
const SignedIn = ({ children }: { children: ReactNode }) => {
  const { t } = useTranslation();
  const session = useQuery(queries.session());
  const { error } = session;
  useEffect(() => {
    if (error instanceof ApiFailure) tellHost({ kind: 'error', code: error.code, detail: error.detail });
  }, [error]);
  if (session.isPending) return <Notice>{t('app.loading')}</Notice>;
  if (session.error) return <Failure error={session.error} retry={() => void session.refetch()} />;
  return children;
};

/** Inside a host’s page nothing is asked of the server before the host has sent a token. */
const Framed = ({ children }: { children: ReactNode }) => {
  const { t } = useTranslation();
  const [state, setState] = useState<'waiting' | 'ready' | 'refused'>('waiting');
  useEffect(() => {
    const host = joinHost();
    if (!host) {
      setState('refused');
      return;
    }
    host.signedIn.then(
      () => setState('ready'),
      () => {
        setState('refused');
        host.tell({ kind: 'error', code: 'no-token', detail: t('embed.refused') });
      },
    );
  }, [t]);
  if (state === 'waiting') return <Notice>{t('embed.waiting')}</Notice>;
  if (state === 'refused') return <Notice title={t('embed.refused')}>{t('embed.noFrame')}</Notice>;
  return <SignedIn>{children}</SignedIn>;
};

/**
 * All screens. `home` is where the way back leads; null inside a host’s page that shows one report. Inside a host’s page, which
 * `isEmbedded` tells, the addresses are the same below `embed/`.
 */
export const App = ({ isEmbedded, home }: { isEmbedded: boolean; home: string | null }) => {
  const Guard = isEmbedded ? Framed : SignedIn;
  return (
    <>
      <ConnectionNotice />
      <Routes>
        <Route
          element={
            <Guard>
              <Screen />
            </Guard>
          }
        >
          <Route index element={<LibraryScreen />} />
          <Route path="reports/:id" element={<ViewerScreen home={home} />} />
          <Route path="record" element={<RecordScreen />} />
          <Route path="house/themes/:id" element={<ThemeScreen />} />
          <Route path="house/pictures/:id" element={<PictureScreen />} />
          <Route path="start" element={<StartScreen />} />
          <Route path="new/:draft" element={<DesignerScreen home={home} />} />
          <Route path="new/:draft/try" element={<ViewerScreen home={home} unsaved />} />
          <Route path="reports/:id/design" element={<DesignerScreen home={home} />} />
          <Route path="reports/:id/try" element={<ViewerScreen home={home} unsaved />} />
          <Route path="reports/:id/revisions" element={<RevisionsScreen />} />
          <Route path="sketches/new" element={<SketchScreen />} />
          <Route path="sketches/new/:draft" element={<SketchScreen />} />
          <Route path="sketches/:id" element={<SketchScreen />} />
          <Route path="data" element={<DataScreen />}>
            <Route index element={<ModelMap />} />
            <Route path="tables/:model/:entity" element={<TableScreen />} />
            <Route path="relate" element={<RelateScreen />} />
            <Route path="recipes/:id" element={<RecipeScreen />} />
            <Route path="connections/:name" element={<ConnectionScreen />} />
          </Route>
          <Route element={<DeliveriesScreen />}>
            <Route path="deliveries" element={<DeliveryList />} />
            <Route path="deliveries/new" element={<DeliveryForm />} />
            <Route path="deliveries/outbox" element={<OutboxPage />} />
            <Route path="deliveries/tray" element={<TrayPage />} />
            <Route path="deliveries/:id" element={<DeliveryScreen />} />
            <Route path="deliveries/:id/edit" element={<DeliveryForm />} />
            <Route path="kept" element={<KeptList />} />
          </Route>
          <Route path="kept/:id" element={<KeptScreen />} />
          <Route path="kept/:id/compare/:other" element={<CompareKept />} />
          <Route path="embedding" element={<EmbeddingScreen />}>
            <Route index element={<Registered />} />
            <Route path="playground" element={<Playground />} />
            <Route path="token" element={<TokenLook />} />
            <Route path="errors" element={<Errors />} />
          </Route>
        </Route>
        <Route element={<Screen />}>
          <Route path="shared/:id" element={<SharedScreen />} />
        </Route>
        <Route path="*" element={<Navigate to="/" replace />} />
      </Routes>
    </>
  );
};
