import { type LanguageFrom, missingIn, type Report } from '@gaveta/core/internal';
import { Pencil } from 'lucide-react';
import { lazy, Suspense, useMemo, useState } from 'react';
import { languageName } from '../../i18n/language-name.ts';
import { useTranslation } from '../../i18n/use-translation.ts';
import { IconButton } from '../../ui/controls.tsx';
import { Pick } from '../../ui/pick.tsx';
import { Select } from '../../ui/select.tsx';
import { useDesign } from '../design/context.ts';
import { useDesigner } from '../design/state.ts';
import { Section, Setting } from '../settings/setting.tsx';
import { KNOWN_LANGUAGES } from './known-languages.ts';
import { withTranslation } from './translation-edits.ts';

const TranslationsDialog = lazy(() => import('./translations-dialog.tsx'));

/** The languages that the report speaks, and what decides on the one that a reader gets. */
export const LanguagesSection = ({ report }: { report: Report }) => {
  const { t, i18n } = useTranslation();
  const { edit } = useDesigner.getState();
  const [open, setOpen] = useState<string | null>(null);
  const { language, translations = [], languageFrom, parameters } = report;
  const spoken = [language, ...translations.map((one) => one.language)];
  const add = (tag: string): void => {
    edit(t('languages.added', { name: nameOf(tag) }), withTranslation(report, tag, { language: tag, texts: {} }));
    setOpen(tag);
  };
  const nameOf = (tag: string): string => languageName(tag, i18n.language);
  const offered = [...new Set([...KNOWN_LANGUAGES, ...spoken])]
    .map((value) => ({ value, label: nameOf(value) }))
    .sort((a, b) => a.label.localeCompare(b.label, i18n.language));
  const from =
    languageFrom === undefined ? 'reader' : languageFrom === 'report' ? 'report' : `by ${languageFrom.parameter}`;
  return (
    <Section title={t('languages.title')} section="languages">
      <Setting label={t('languages.own')}>
        <Select
          label={t('report.language')}
          value={language}
          choices={offered.filter(({ value }) => value === language || !spoken.includes(value))}
          onPick={(tag) =>
            edit(t('edits.set', { what: t('report.language').toLowerCase() }), {
              do: 'report',
              settings: { language: tag },
            })
          }
        />
      </Setting>
      {translations.map((one) => (
        <div key={one.language} className="flex min-h-7 items-center gap-1" data-language={one.language}>
          <span className="min-w-0 flex-1 truncate">
            {nameOf(one.language)} <Missing report={report} language={one.language} />
          </span>
          <IconButton
            label={t('languages.translate', { name: nameOf(one.language) })}
            onClick={() => setOpen(one.language)}
          >
            <Pencil size={13} />
          </IconButton>
        </div>
      ))}
      <Pick
        label={t('languages.add')}
        choices={offered.filter(({ value }) => !spoken.includes(value)).map((one) => ({ ...one, note: one.value }))}
        onPick={add}
      />
      {translations.length > 0 && (
        <Setting label={t('languages.from')}>
          <Select
            label={t('languages.from')}
            value={from}
            choices={[
              { value: 'reader', label: t('languages.from_reader') },
              { value: 'report', label: t('languages.from_report') },
              ...parameters.map(({ name, label }) => ({
                value: `by ${name}`,
                label,
                group: t('languages.from_parameter'),
              })),
            ]}
            onPick={(picked) =>
              edit(t('edits.set', { what: t('languages.from').toLowerCase() }), {
                do: 'report',
                settings: { languageFrom: fromOf(picked) },
              })
            }
          />
        </Setting>
      )}
      {open !== null && (
        <Suspense>
          <TranslationsDialog report={report} language={open} onLanguage={setOpen} onClose={() => setOpen(null)} />
        </Suspense>
      )}
    </Section>
  );
};

const fromOf = (picked: string): LanguageFrom | null =>
  picked === 'reader' ? null : picked === 'report' ? 'report' : { parameter: picked.slice('by '.length) };

const Missing = ({ report, language }: { report: Report; language: string }) => {
  const { t } = useTranslation();
  const { models } = useDesign();
  const count = useMemo(() => missingIn(report, language, models).length, [report, language, models]);
  return (
    <span className={`text-[11.5px] ${count > 0 ? 'text-ink-2' : 'text-ink-3'}`}>
      {count > 0 ? t('languages.missing', { count }) : t('languages.complete')}
    </span>
  );
};
