import { lookIntoToken, RIGHTS } from '@gaveta/core/internal';
import { CircleAlert, CircleCheck } from 'lucide-react';
import { useState } from 'react';
import { useTranslation } from '../i18n/use-translation.ts';

/** What a token says. It is read in this page and goes nowhere. */
export const TokenLook = () => {
  const { t, i18n } = useTranslation();
  const [text, setText] = useState('');
  const now = Date.now();
  const seen = lookIntoToken(text, now);
  const when = new Intl.DateTimeFormat(i18n.language, { dateStyle: 'medium', timeStyle: 'medium' });
  const moment = (seconds: number | null): string => (seconds === null ? '–' : when.format(new Date(seconds * 1000)));
  const pairs = (values: Record<string, unknown>): string =>
    Object.entries(values)
      .map(([name, value]) => `${name} = ${JSON.stringify(value)}`)
      .join('\n') || '–';
  return (
    <main className="mx-auto max-w-3xl px-6 py-6">
      <label className="block">
        <span className="mb-1 block font-semibold">{t('embedding.tokenPaste')}</span>
        <textarea
          rows={5}
          spellCheck={false}
          autoComplete="off"
          className="w-full rounded border border-rule bg-paper p-2 font-mono text-[12px] break-all"
          placeholder="eyJhbGciOiJIUzI1NiJ9.…"
          value={text}
          onChange={(event) => setText(event.target.value)}
        />
      </label>
      <p className="mt-1 mb-4 text-ink-3">{t('embedding.tokenHelp')}</p>
      {text.trim() !== '' && !seen && (
        <p role="alert" className="flex items-center gap-1.5 text-rust">
          <CircleAlert size={15} aria-hidden /> {t('embedding.tokenNone')}
        </p>
      )}
      {seen && (
        <section aria-label={t('embedding.tokenSays')}>
          <dl className="grid grid-cols-[130px_minmax(0,1fr)] gap-y-1.5">
            {(
              [
                ['user', seen.user ?? '–'],
                ['rights', seen.rights.join(', ') || '–'],
                ['claims', pairs(seen.claims)],
                ['parameters', pairs(seen.parameters)],
                ['issued', moment(seen.issuedAt)],
                ['ends', moment(seen.endsAt)],
              ] as const
            ).map(([name, value]) => (
              <div key={name} className="contents">
                <dt className="text-ink-2">{t(`embedding.token_${name}`)}</dt>
                <dd className="m-0 break-words whitespace-pre-wrap">{value}</dd>
              </div>
            ))}
          </dl>
          <ul className="mt-4" aria-live="polite">
            {seen.findings.length === 0 && (
              <li className="flex items-center gap-1.5 text-pine">
                <CircleCheck size={15} aria-hidden /> {t('embedding.tokenFine')}
              </li>
            )}
            {seen.findings.map(({ code, name }) => (
              <li key={`${code} ${name}`} className="mb-1 flex items-start gap-1.5">
                <CircleAlert size={15} aria-hidden className="mt-0.5 flex-none text-rust" />
                {t(`embedding.finding_${code}`, { name, rights: RIGHTS.join(', ') })}
              </li>
            ))}
          </ul>
        </section>
      )}
    </main>
  );
};
