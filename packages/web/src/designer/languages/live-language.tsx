import { languagesOf, type Report } from '@gaveta/core/internal';
import { useEffect } from 'react';
import { useStore } from 'zustand';
import { languageName } from '../../i18n/language-name.ts';
import { useTranslation } from '../../i18n/use-translation.ts';
import type { Live } from '../../live/use-live.ts';
import { Select } from '../../ui/select.tsx';

/** The language that the live page is shown in, where the report speaks several. */
export const LiveLanguage = ({ live, report }: { live: Live; report: Report }) => {
  const { t, i18n } = useTranslation();
  const shown = useStore(live.view, (view) => view.language);
  const languages = languagesOf(report);
  // One that was removed is shown no more.
  const isGone = shown !== null && !languages.includes(shown);
  useEffect(() => {
    if (isGone) live.speak(null);
  }, [isGone, live]);
  if (languages.length < 2) return null;
  return (
    <Select
      label={t('languages.live')}
      look="quiet"
      className="max-w-36 text-[12px]"
      value={shown ?? report.language}
      choices={languages.map((value) => ({ value, label: languageName(value, i18n.language) }))}
      onPick={(tag) => live.speak(tag === report.language ? null : tag)}
    />
  );
};
