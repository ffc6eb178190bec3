import { lazy, useEffect, useState } from 'react';
import { useLocation } from 'react-router';
import { tokens } from '../api/client.ts';
import { takeSettings } from '../embed/settings.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { Notice } from '../ui/controls.tsx';

const ViewerScreen = lazy(() => import('./viewer-screen.tsx').then(({ ViewerScreen }) => ({ default: ViewerScreen })));

/**
 * A report that somebody shared by a link. Its token stands behind the # of the address, which browsers send to nobody; what could be
 * changed of the report is left out.
 */
export const SharedScreen = () => {
  const { t } = useTranslation();
  const { hash } = useLocation();
  const [token] = useState(() => hash.slice(1));
  const [isReady, setIsReady] = useState(false);
  useEffect(() => {
    tokens.current = token;
    takeSettings({ look: {}, hide: ['parameters', 'design', 'window'], actions: [], words: {}, isAutoHeight: false });
    setIsReady(true);
  }, [token]);
  if (token === '') return <Notice title={t('share.noLink')}>{t('share.noLinkHelp')}</Notice>;
  return isReady ? <ViewerScreen home={null} /> : null;
};
