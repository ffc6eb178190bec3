import type { KitDocument, KitReference } from './kit.ts';

/** How much of a page is seen when a file is opened; as the reader has it, or all of it, or as wide as the window. */
export type Opening = 'reader' | 'page' | 'width';

/** How pages stand when a file is opened. */
export type PagesLayout = 'reader' | 'one' | 'continuous' | 'two';

const LAYOUTS = { one: 'SinglePage', continuous: 'OneColumn', two: 'TwoPageRight' } as const;

/** Says how a file is shown when it is opened, and that it is printed at its own size (ISO 32000-1, 12.2). */
export const showAs = (
  document: KitDocument,
  first: KitReference | null,
  opens: Opening,
  layout: PagesLayout,
): void => {
  const { data } = document._root;
  const { data: preferences } = data.ViewerPreferences as KitReference;
  preferences.PrintScaling = 'None';
  if (layout !== 'reader') data.PageLayout = LAYOUTS[layout];
  if (opens !== 'reader' && first) data.OpenAction = opens === 'page' ? [first, 'Fit'] : [first, 'FitH', null];
};
