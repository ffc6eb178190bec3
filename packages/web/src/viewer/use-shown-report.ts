import { languagesOf } from '@gaveta/core/internal';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api } from '../api/client.ts';
import { slotOf } from '../api/draft-slots.ts';

/** The report that is shown: as it was published or saved last, or `unsaved` work on it that the designer has put by. */
export const useShownReport = (id: string, unsaved: boolean, languages: readonly string[]) => {
  // What readers see, until somebody who may asks for what was saved since.
  const [which, setWhich] = useState<'published' | 'newest'>('published');
  const report = useQuery({
    queryKey: unsaved ? ['draft', id] : ['report', id, which, languages],
    queryFn: async () => {
      const draft = unsaved ? ((await api.draft(slotOf(id))) ?? (await api.draft(id))) : null;
      if (draft) return { ...draft, languages: languagesOf(draft.definition), stored: null };
      const stored = await api.report(id, unsaved ? 'newest' : which, unsaved ? [] : languages);
      return { ...stored, stored };
    },
    staleTime: 0,
    // In another language its name and parameters stay where they are until the other ones have come.
    placeholderData: (before) => before,
    ...(unsaved ? { gcTime: 0 } : {}),
  });
  return { report, which, setWhich };
};
