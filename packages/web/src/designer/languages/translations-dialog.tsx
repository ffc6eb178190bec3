import {
  dictionaryOf,
  isUneven,
  missingIn,
  pluralExamples,
  type Report,
  type SpokenText,
  textsOf,
  translationOf,
} from '@gaveta/core/internal';
import type { TFunction } from 'i18next';
import { X } from 'lucide-react';
import { useMemo, useState } from 'react';
import { languageName } from '../../i18n/language-name.ts';
import { useTranslation } from '../../i18n/use-translation.ts';
import { Check } from '../../ui/commit.tsx';
import { agreed } from '../../ui/confirm.tsx';
import { Button, IconButton, inputLook } from '../../ui/controls.tsx';
import { Dialog } from '../../ui/dialog.tsx';
import { Select } from '../../ui/select.tsx';
import { useDesign } from '../design/context.ts';
import { useDesigner } from '../design/state.ts';
import { placeWords } from '../design/words.ts';
import { FileButtons } from './file-buttons.tsx';
import { isRightToLeft } from './known-languages.ts';
import { saying, withTranslation } from './translation-edits.ts';
import { TranslationLine } from './translation-line.tsx';

interface Props {
  report: Report;
  language: string;
  onLanguage: (language: string) => void;
  onClose: () => void;
}

/** Everything that the report says, with what it is called in another language. Each change is an edit of the report. */
const TranslationsDialog = ({ report, language, onLanguage, onClose }: Props) => {
  const { t, i18n } = useTranslation();
  const { models } = useDesign();
  const { edit, undo, redo } = useDesigner.getState();
  const [search, setSearch] = useState('');
  const [onlyMissing, setOnlyMissing] = useState(false);
  const [notice, setNotice] = useState<string | null>(null);
  const translation = translationOf(report, language) ?? { language, texts: {} };
  const spoken = useMemo(() => textsOf(report), [report]);
  const missing = useMemo(() => missingIn(report, language, models), [report, language, models]);
  const ofModel = useMemo(
    () => dictionaryOf({ ...report, translations: [] }, language, models),
    [report, language, models],
  );
  const named = languageName(language, i18n.language);
  const say = ({ text }: SpokenText, said: string): void =>
    edit(
      t('languages.said', { name: named, text }),
      withTranslation(report, language, saying(translation, text, said)),
    );
  // A line that was just translated stays where it is until something else is looked for.
  const [shown, setShown] = useState<ReadonlySet<string> | null>(null);
  const missed = onlyMissing ? (shown ?? new Set(missing.map(({ text }) => text))) : null;
  const words = search.trim().toLocaleLowerCase();
  const found = spoken.filter(
    ({ text }) =>
      (!missed || missed.has(text)) &&
      (words === '' || `${text}\n${translation.texts[text] ?? ''}`.toLocaleLowerCase().includes(words)),
  );
  const unused = Object.keys(translation.texts).filter((text) => !spoken.some((one) => one.text === text));
  const forms = pluralExamples(language);
  const remove = async (): Promise<void> => {
    const count = Object.keys(translation.texts).length;
    if (count > 0 && !(await agreed(t('languages.sure', { name: named, count }), t('languages.remove')))) return;
    edit(t('languages.removed', { name: named }), withTranslation(report, language, null));
    onClose();
  };
  return (
    <Dialog
      title={t('languages.title')}
      onClose={onClose}
      onKeyDown={(event) => {
        if (!(event.ctrlKey || event.metaKey) || event.target instanceof HTMLTextAreaElement) return;
        const key = event.key.toLowerCase();
        if (key !== 'z' && key !== 'y') return;
        event.preventDefault();
        if (key === 'y' || event.shiftKey) redo();
        else undo();
      }}
    >
      <div className="flex min-h-11 flex-none flex-wrap items-center gap-2 border-b border-rule px-3 py-1.5">
        <span className="w-44">
          <Select
            label={t('languages.shown')}
            value={language}
            choices={(report.translations ?? []).map((one) => ({
              value: one.language,
              label: languageName(one.language, i18n.language),
            }))}
            onPick={(next) => {
              setShown(null);
              setNotice(null);
              onLanguage(next);
            }}
          />
        </span>
        <span role="status" className="text-[12px] text-ink-2">
          {missing.length > 0
            ? t('languages.missingOf', { count: missing.length, all: spoken.length })
            : t('languages.complete')}
        </span>
        <span className="flex-1" />
        <FileButtons report={report} translation={translation} spoken={spoken} models={models} onNotice={setNotice} />
        <Button onClick={() => void remove()}>{t('languages.remove')}</Button>
        <Button look="primary" onClick={onClose}>
          {t('languages.close')}
        </Button>
      </div>
      <div className="flex flex-none flex-wrap items-center gap-x-4 gap-y-1 border-b border-rule-soft px-3 py-1.5">
        <span className="w-64">
          <input
            type="search"
            aria-label={t('languages.search')}
            placeholder={t('languages.search')}
            className={inputLook}
            value={search}
            onChange={(event) => setSearch(event.target.value)}
          />
        </span>
        <Check
          label={t('languages.onlyMissing')}
          checked={onlyMissing}
          onChange={(on) => {
            setShown(on ? new Set(missing.map(({ text }) => text)) : null);
            setOnlyMissing(on);
          }}
        />
        {isRightToLeft(language) && (
          <Check
            label={t('languages.mirrored')}
            checked={translation.mirrored ?? false}
            onChange={(on) => {
              const { mirrored: _, ...others } = translation;
              const what = t('languages.mirrored').toLowerCase();
              const next = on ? { ...others, mirrored: true } : others;
              edit(t('edits.set', { what }), withTranslation(report, language, next));
            }}
          />
        )}
      </div>
      {notice && (
        <p role="status" className="flex flex-none items-start gap-2 bg-brass-soft px-3 py-1.5 whitespace-pre-line">
          <span className="min-w-0 flex-1">{notice}</span>
          <IconButton label={t('languages.dismiss')} onClick={() => setNotice(null)}>
            <X size={13} />
          </IconButton>
        </p>
      )}
      <div className="min-h-0 flex-1 overflow-auto">
        {found.length === 0 ? (
          <p className="p-6 text-center text-ink-3">
            {t(
              spoken.length === 0
                ? 'languages.nothing'
                : onlyMissing && words === ''
                  ? 'languages.allDone'
                  : 'add.none',
            )}
          </p>
        ) : (
          <ul aria-label={t('languages.texts')}>
            {found.map((one) => (
              <TranslationLine
                key={one.text}
                spoken={one}
                language={language}
                translation={translation.texts[one.text] ?? ''}
                ofModel={ofModel(one.text)}
                isUneven={isUneven(one, translation.texts[one.text] ?? one.text)}
                place={placeOf(t, report, one.paths[0] ?? '')}
                forms={forms}
                onSay={(said) => say(one, said)}
              />
            ))}
          </ul>
        )}
        {unused.length > 0 && words === '' && !onlyMissing && (
          <div className="flex items-center gap-3 border-t border-rule px-3 py-2 text-ink-2">
            {t('languages.unused', { count: unused.length })}
            <Button
              onClick={() => {
                const texts = Object.fromEntries(
                  Object.entries(translation.texts).filter(([text]) => !unused.includes(text)),
                );
                edit(t('languages.cleared'), withTranslation(report, language, { ...translation, texts }));
              }}
            >
              {t('languages.clear')}
            </Button>
          </div>
        )}
      </div>
    </Dialog>
  );
};

/** Where a text stands: the band, query or drawer, or the parameter that it is of. */
const placeOf = (t: TFunction, report: Report, path: string): string => {
  const [part] = path.split('/');
  const words = placeWords(t, report, path.split('/items/')[0]!, {});
  if (part === 'parameters') return t('languages.ofParameter', { name: words ?? '' });
  return words ?? t('designer.report');
};

export default TranslationsDialog;
