import { useQuery } from '@tanstack/react-query';
import { type ReactNode, useEffect, useState } from 'react';
import { useTranslation } from 'react-i18next';
import { Navigate, Outlet, Route, Routes } from 'react-router';
import { api } from './api/client.ts';
import { ConnectionScreen } from './data/connection-screen.tsx';
import { DataScreen } from './data/data-screen.tsx';
import { ModelMap } from './data/model-map.tsx';
import { RecipeScreen } from './data/recipe-screen.tsx';
import { RelateScreen } from './data/relate-screen.tsx';
import { TableScreen } from './data/table-screen.tsx';
import { DesignerScreen } from './designer/designer-screen.tsx';
import { joinHost } from './embed/frame.ts';
import { LibraryScreen } from './library/library-screen.tsx';
import { RevisionsScreen } from './revisions/revisions-screen.tsx';
import { StartScreen } from './start/start-screen.tsx';
import { Notice } from './ui/controls.tsx';
import { Failure } from './ui/failure.tsx';
import { ViewerScreen } from './viewer/viewer-screen.tsx';

/** Shows its screens only to callers whom the server knows. */
const SignedIn = ({ children }: { children: ReactNode }) => {
  const { t } = useTranslation();
  const session = useQuery({ queryKey: ['session'], queryFn: api.session });
  if (session.isPending) return <Notice>{t('app.loading')}</Notice>;
  if (session.error) return <Failure error={session.error} retry={() => void session.refetch()} />;
  return children;
};

/** Inside a frame nothing is asked of the server before the host has sent a token. */
const Framed = () => {
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
  return (
    <SignedIn>
      <Outlet />
    </SignedIn>
  );
};

export const App = () => (
  <Routes>
    <Route element={<Framed />}>
      <Route path="embed/reports/:id" element={<ViewerScreen home={null} />} />
      <Route path="embed/reports/:id/design" element={<DesignerScreen home={null} />} />
      <Route path="embed/reports/:id/try" element={<ViewerScreen home={null} unsaved />} />
      <Route path="embed/reports/:id/revisions" element={<RevisionsScreen />} />
    </Route>
    <Route
      element={
        <SignedIn>
          <Outlet />
        </SignedIn>
      }
    >
      <Route index element={<LibraryScreen />} />
      <Route path="reports/:id" element={<ViewerScreen home="/" />} />
      <Route path="start" element={<StartScreen />} />
      <Route path="new/:draft" element={<DesignerScreen home="/" />} />
      <Route path="new/:draft/try" element={<ViewerScreen home="/" unsaved />} />
      <Route path="reports/:id/design" element={<DesignerScreen home="/" />} />
      <Route path="reports/:id/try" element={<ViewerScreen home="/" unsaved />} />
      <Route path="reports/:id/revisions" element={<RevisionsScreen />} />
      <Route path="data" element={<DataScreen />}>
        <Route index element={<ModelMap />} />
        <Route path="tables/:model/:entity" element={<TableScreen />} />
        <Route path="relate" element={<RelateScreen />} />
        <Route path="recipes/:id" element={<RecipeScreen />} />
        <Route path="connections/:name" element={<ConnectionScreen />} />
      </Route>
    </Route>
    <Route path="*" element={<Navigate to="/" replace />} />
  </Routes>
);
