import type { SpokenText } from '@gaveta/core/internal';
import { useEffect, useState } from 'react';
import { useTranslation } from '../../i18n/use-translation.ts';

interface LineProps {
  spoken: SpokenText;
  language: string;
  /** As the report has it; empty where nobody has said it. */
  translation: string;
  /** What the data model calls it; null where it does not. */
  ofModel: string | null;
  isUneven: boolean;
  /** Where it stands, in words. */
  place: string | null;
  /** A count for each form that a word has in the language. */
  forms: readonly number[];
  onSay: (said: string) => void;
}

/** A text and its translation, which takes effect when its box is left, and goes back on Escape. */
export const TranslationLine = ({
  spoken,
  language,
  translation,
  ofModel,
  isUneven,
  place,
  forms,
  onSay,
}: LineProps) => {
  const { t } = useTranslation();
  const { text, kind, formulas } = spoken;
  const [draft, setDraft] = useState(translation);
  useEffect(() => setDraft(translation), [translation]);
  const numbers = Object.entries(formulas);
  const hint = kind === 'forms' ? t('languages.forms', { counts: forms.join(' | ') }) : null;
  return (
    <li
      className="grid grid-cols-[minmax(0,1fr)_minmax(0,1fr)] gap-3 border-b border-rule-soft px-3 py-1.5 [contain-intrinsic-block-size:auto_52px] [content-visibility:auto]"
      data-text={text}
    >
      <div className="min-w-0">
        <p className="break-words whitespace-pre-line">{text}</p>
        <p className="text-[11.5px] text-ink-3">
          {[place, spoken.paths.length > 1 ? t('languages.places', { count: spoken.paths.length }) : null]
            .filter(Boolean)
            .join(' · ')}
        </p>
        {numbers.map(([number, formula]) => (
          <p key={number} className="truncate font-mono text-[11px] text-ink-3">{`{${number}} ${formula}`}</p>
        ))}
      </div>
      <div className="min-w-0">
        <textarea
          aria-label={t('languages.translationOf', { text })}
          lang={language}
          dir="auto"
          rows={Math.min(6, Math.max(1, draft.split('\n').length, Math.ceil(draft.length / 60)))}
          className={`w-full resize-none rounded border bg-paper px-2 py-1 ${draft.trim() === '' && ofModel === null ? 'border-brass' : 'border-rule'}`}
          placeholder={ofModel ?? undefined}
          value={draft}
          onChange={(event) => setDraft(event.target.value)}
          onBlur={() => draft !== translation && onSay(draft)}
          onKeyDown={(event) => {
            if (event.key === 'Escape' && draft !== translation) {
              event.preventDefault();
              event.stopPropagation();
              setDraft(translation);
            }
            // A line of its own is made with Shift, as texts seldom have one.
            if (event.key === 'Enter' && !event.shiftKey) {
              event.preventDefault();
              nextBox(event.currentTarget)?.focus();
            }
          }}
        />
        {draft.trim() === '' && ofModel !== null && (
          <p className="text-[11.5px] text-ink-3">{t('languages.ofModel')}</p>
        )}
        {hint && <p className="text-[11.5px] text-ink-3">{hint}</p>}
        {isUneven && <p className="text-[11.5px] text-rust-strong">{t('languages.uneven')}</p>}
      </div>
    </li>
  );
};

const nextBox = (box: HTMLTextAreaElement): HTMLTextAreaElement | null =>
  box.closest('li')?.nextElementSibling?.querySelector('textarea') ?? null;
