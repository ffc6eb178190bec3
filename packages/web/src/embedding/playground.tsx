import { LOOK_TOKENS, type LookToken, PARTS, TRIED_RIGHTS } from '@gaveta/core/internal';
import { useQuery } from '@tanstack/react-query';
import { type ReactNode, useState } from 'react';
import { queries } from '../api/queries.ts';
import { LANGUAGES } from '../i18n/i18n.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { Check } from '../ui/commit.tsx';
import { Button, inputLook, Line, Notice } from '../ui/controls.tsx';
import { Failure } from '../ui/failure.tsx';
import { Select } from '../ui/select.tsx';
import { CodeBlock } from './code-block.tsx';
import { ELEMENTS, pageCode, reactCode, serverCode, type Trial } from './playground-code.ts';
import { type Told, TriedElement } from './tried-element.tsx';

const BELOW = ['page', 'react', 'server', 'events'] as const;

/** Events that are remembered. */
const MOST_TOLD = 200;

/** Values to begin a look with. */
const EXAMPLES: Readonly<Partial<Record<LookToken, string>>> = {
  action: '#225588',
  'on-action': '#ffffff',
  radius: '2px',
  font: 'Georgia, serif',
  density: 'compact',
  scheme: 'dark',
};

/** Elements are tried as a page would have them, and their code is copied. */
export const Playground = () => {
  const { t } = useTranslation();
  const reports = useQuery(queries.reports());
  const session = useQuery(queries.session());
  if (reports.error) return <Failure error={reports.error} retry={() => void reports.refetch()} />;
  if (!reports.data || !session.data) return <Notice>{t('app.loading')}</Notice>;
  if (reports.data.length === 0) return <Notice>{t('embedding.noReports')}</Notice>;
  return <Trying reports={reports.data} own={TRIED_RIGHTS.filter((right) => session.data.rights.includes(right))} />;
};

interface TryingProps {
  reports: readonly { id: string; name: string }[];
  /** Rights of the caller, of which some are tried. */
  own: Trial['rights'];
}

const Trying = ({ reports, own }: TryingProps) => {
  const { t, i18n } = useTranslation();
  const [trial, setTrial] = useState<Trial>({
    element: 'viewer',
    report: reports[0]!.id,
    hide: [],
    isAutoHeight: false,
    language: null,
    look: {},
    rights: own.filter((right) => right === 'view'),
  });
  const [below, setBelow] = useState<(typeof BELOW)[number]>('page');
  const [told, setTold] = useState<readonly (Told & { id: number })[]>([]);
  const change = (more: Partial<Trial>): void => setTrial((before) => ({ ...before, ...more }));
  const setLook = (token: LookToken, value: string): void => {
    const { [token]: _, ...rest } = trial.look;
    change({ look: value === '' ? rest : { ...rest, [token]: value } });
  };
  const base = document.baseURI;
  const time = new Intl.DateTimeFormat(i18n.language, { timeStyle: 'medium' });
  return (
    <main className="grid h-full min-h-0 grid-cols-1 md:grid-cols-[280px_minmax(0,1fr)]">
      <form
        className="overflow-auto border-e border-rule px-4 py-3"
        aria-label={t('embedding.settings')}
        onSubmit={(event) => event.preventDefault()}
      >
        <Line label={t('embedding.element')}>
          <Select
            value={trial.element}
            choices={ELEMENTS.map((value) => ({ value, label: t(`embedding.element_${value}`) }))}
            onPick={(element) => change({ element })}
          />
        </Line>
        {trial.element !== 'library' && (
          <Line label={t('embedding.report')}>
            <Select
              value={trial.report ?? undefined}
              choices={reports.map(({ id, name }) => ({ value: id, label: name }))}
              onPick={(report) => change({ report })}
            />
          </Line>
        )}
        <Line label={t('app.language')}>
          <Select
            value={trial.language ?? ''}
            choices={[
              { value: '', label: t('embedding.ofBrowser') },
              ...Object.entries(LANGUAGES).map(([value, label]) => ({ value, label, lang: value })),
            ]}
            onPick={(language) => change({ language: language === '' ? null : language })}
          />
        </Line>
        {trial.element === 'viewer' && (
          <Check
            label={t('embedding.autoHeight')}
            checked={trial.isAutoHeight}
            onChange={(isAutoHeight) => change({ isAutoHeight })}
          />
        )}
        <Several
          title={t('embedding.rights')}
          choices={own}
          chosen={trial.rights}
          onChange={(rights) => change({ rights })}
        />
        <Several
          title={t('embedding.hide')}
          choices={PARTS}
          chosen={trial.hide}
          onChange={(hide) => change({ hide })}
        />
        <Group title={t('embedding.look')}>
          {LOOK_TOKENS.map((token) => (
            <Line key={token} label={token}>
              <input
                className={inputLook}
                spellCheck={false}
                placeholder={EXAMPLES[token] ?? ''}
                value={trial.look[token] ?? ''}
                onChange={(event) => setLook(token, event.target.value)}
              />
            </Line>
          ))}
        </Group>
      </form>
      <div className="grid min-h-0 min-w-0 grid-rows-[minmax(260px,3fr)_minmax(180px,2fr)]">
        <section aria-label={t('embedding.tried')} className="min-h-0 border-b border-rule bg-desk/30 p-3">
          <TriedElement
            trial={trial}
            onTold={(one) =>
              setTold((before) => [{ ...one, id: (before[0]?.id ?? 0) + 1 }, ...before].slice(0, MOST_TOLD))
            }
          />
        </section>
        <section className="flex min-h-0 min-w-0 flex-col px-3 py-2">
          <div className="mb-2 flex gap-1">
            {BELOW.map((what) => (
              <Button
                key={what}
                look={below === what ? 'plain' : 'quiet'}
                aria-pressed={below === what}
                onClick={() => setBelow(what)}
              >
                {t(`embedding.below_${what}`)}
                {what === 'events' && told.length > 0 && <span className="text-ink-3">{told.length}</span>}
              </Button>
            ))}
          </div>
          <div className="min-h-0 flex-1 overflow-auto">
            {below === 'page' && <CodeBlock label={t('embedding.below_page')} code={pageCode(trial, base)} />}
            {below === 'react' && <CodeBlock label={t('embedding.below_react')} code={reactCode(trial, base)} />}
            {below === 'server' && <CodeBlock label={t('embedding.below_server')} code={serverCode(trial)} />}
            {below === 'events' &&
              (told.length === 0 ? (
                <p className="text-ink-3">{t('embedding.noEvents')}</p>
              ) : (
                <ol aria-label={t('embedding.below_events')} className="font-mono text-[12px]">
                  {told.map(({ event, detail, at, id }) => (
                    <li key={id} className="border-b border-rule-soft py-0.5 break-words">
                      <span className="text-ink-3">{time.format(at)}</span> <b>{event}</b> {JSON.stringify(detail)}
                    </li>
                  ))}
                </ol>
              ))}
          </div>
        </section>
      </div>
    </main>
  );
};

const Group = ({ title, children }: { title: string; children: ReactNode }) => (
  <fieldset className="mt-3 border-0 border-t border-rule p-0 pt-2">
    <legend className="sr-only">{title}</legend>
    <p aria-hidden className="mb-1 font-semibold">
      {title}
    </p>
    {children}
  </fieldset>
);

interface SeveralProps<T extends string> {
  title: string;
  choices: readonly T[];
  chosen: readonly T[];
  onChange: (chosen: T[]) => void;
}

/** Names of which any number may be chosen. */
const Several = <T extends string>({ title, choices, chosen, onChange }: SeveralProps<T>) => (
  <Group title={title}>
    <div className="grid grid-cols-2">
      {choices.map((one) => (
        <Check
          key={one}
          label={one}
          checked={chosen.includes(one)}
          onChange={(on) => onChange(on ? [...chosen, one] : chosen.filter((other) => other !== one))}
        />
      ))}
    </div>
  </Group>
);
