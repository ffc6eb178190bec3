import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api } from '../api/client.ts';
import { slotOf } from '../api/draft-slots.ts';

/** The report that is shown: as it was published or saved last, or `unsaved` work on it that the designer has put by. */
export const useShownReport = (id: string, unsaved: boolean) => {
  // What readers see, until somebody who may asks for what was saved since.
  const [which, setWhich] = useState<'published' | 'newest'>('published');
  const report = useQuery({
    queryKey: unsaved ? ['draft', id] : ['report', id, which],
    queryFn: async () => {
      const draft = unsaved ? ((await api.draft(slotOf(id))) ?? (await api.draft(id))) : null;
      if (draft) return { ...draft, stored: null };
      const stored = await api.report(id, unsaved ? 'newest' : which);
      return { ...stored, stored };
    },
    staleTime: 0,
    ...(unsaved ? { gcTime: 0 } : {}),
  });
  return { report, which, setWhich };
};
