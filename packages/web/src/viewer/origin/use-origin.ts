import type { AskedValue } from '@gaveta/core/internal';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { queries } from '../../api/queries.ts';
import type { ShownValue } from './value-at.ts';

export interface Origin {
  /** What is asked about, as it is shown; null while nothing is. */
  shown: { text: string; asked: AskedValue } | null;
  ask: (value: ShownValue) => void;
  close: () => void;
}

/** A value of a run that is asked about; another run knows nothing of it. */
export const useOrigin = (run: string | null): Origin => {
  const [asked, setAsked] = useState<{ run: string; text: string; asked: AskedValue } | null>(null);
  return {
    shown: asked && asked.run === run ? asked : null,
    ask: ({ text, asked: value }) => run !== null && setAsked({ run, text, asked: value }),
    close: () => setAsked(null),
  };
};

export const useExplanation = (run: string, asked: AskedValue) => useQuery(queries.explanation(run, asked));
