import { lazy } from 'react';

/** What is opened now and then comes when it is: the first page waits for none of it. */
export const ColumnsMenu = lazy(() =>
  import('./arranging/columns-menu.tsx').then(({ ColumnsMenu }) => ({ default: ColumnsMenu })),
);
export const LanguageMenu = lazy(() => import('./language-menu.tsx'));
export const OriginPanel = lazy(() =>
  import('./origin/origin-panel.tsx').then(({ OriginPanel }) => ({ default: OriginPanel })),
);
export const PointedItem = lazy(() =>
  import('./pointed-item.tsx').then(({ PointedItem }) => ({ default: PointedItem })),
);
export const SharePanel = lazy(() =>
  import('./share/share-panel.tsx').then(({ SharePanel }) => ({ default: SharePanel })),
);
export const ValueMenu = lazy(() =>
  import('./origin/value-menu.tsx').then(({ ValueMenu }) => ({ default: ValueMenu })),
);
export const ValuesPanel = lazy(() =>
  import('./values/values-panel.tsx').then(({ ValuesPanel }) => ({ default: ValuesPanel })),
);
export const Wing = lazy(() => import('./wing/wing.tsx').then(({ Wing }) => ({ default: Wing })));
