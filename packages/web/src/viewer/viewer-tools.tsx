import type { FoldState } from '@gaveta/core/internal';
import { type ComponentProps, Suspense } from 'react';
import type { RunState } from '../api/client.ts';
import { useIsHidden } from '../embed/settings.ts';
import type { useArranging } from './arranging/use-arranging.ts';
import { FoldsMenu } from './folds-menu.tsx';
import { ColumnsMenu, LanguageMenu } from './later-parts.ts';
import type { useReaderLanguages } from './reader-language.ts';
import { WhichRevision } from './which-revision.tsx';

interface ToolsProps extends ComponentProps<typeof WhichRevision> {
  state: RunState | null;
  /** Those that the report speaks. */
  languages: readonly string[];
  reader: ReturnType<typeof useReaderLanguages>;
  /** Whether its reader decides on the language. */
  isOfReader: boolean;
  arranging: ReturnType<typeof useArranging>;
  onAll: (base: FoldState['base']) => void;
}

/** What changes how a report is shown: its language and revision, its folds and columns. */
export const ViewerTools = ({ state, languages, reader, isOfReader, arranging, stored, onShow, onAll }: ToolsProps) => {
  const isHidden = useIsHidden();
  const mayHide = arranging.may === 'all' && arranging.columns.some(({ mayBeHidden }) => mayBeHidden);
  return (
    <>
      {state && languages.length > 1 && isOfReader && !isHidden('language') && (
        <Suspense>
          <LanguageMenu languages={languages} shown={state.language} onChoose={reader.choose} />
        </Suspense>
      )}
      <WhichRevision stored={stored} onShow={onShow} />
      {state?.isFoldable && !isHidden('folds') && <FoldsMenu onAll={onAll} />}
      {mayHide && (
        <Suspense>
          <ColumnsMenu arranging={arranging} />
        </Suspense>
      )}
    </>
  );
};
