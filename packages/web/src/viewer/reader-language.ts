import { useState } from 'react';
import { readerLanguages } from '../i18n/i18n.ts';
import { browserMemory, keep, recall } from '../ui/memory.ts';

const KEY = 'gaveta.report-language';
const MOST = 20;

/** The languages that a reader wants reports in, the preferred one first. One that they choose is kept for all reports. */
export const useReaderLanguages = (): { languages: string[]; choose: (language: string) => void } => {
  const [chosen, setChosen] = useState(() => recall(browserMemory(), KEY));
  const languages = [...(chosen === null ? [] : [chosen]), ...readerLanguages()];
  return {
    languages: [...new Set(languages)].filter(isTag).slice(0, MOST),
    choose: (language) => {
      keep(browserMemory(), KEY, language);
      setChosen(language);
    },
  };
};

/** What a browser or a host says is a tag only if it looks like one. */
const isTag = (tag: string): boolean => /^[A-Za-z]{2,3}(-[A-Za-z0-9]{2,8})*$/.test(tag) && tag.length <= 35;
