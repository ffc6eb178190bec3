import type { Problem } from '@gaveta/core/internal';
import { Popover } from 'radix-ui';
import { useState } from 'react';
import type { RunState } from '../api/client.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { problemKey, problemWords, saidWords } from '../i18n/words.ts';
import { Button, Notice } from '../ui/controls.tsx';
import { Failure, useFailureText } from '../ui/failure.tsx';
import { Panel } from '../ui/panel.tsx';

interface ProblemsProps {
  state: RunState;
  /** Leads to the item that something is wrong with. */
  onItem: (item: string, words: string) => Promise<boolean>;
}

/** What was found wrong with a report while it ran; what is wrong with an item leads to where it stands. */
export const Problems = ({ state, onItem }: ProblemsProps) => {
  const { t } = useTranslation();
  const [isOpen, setOpen] = useState(false);
  const [notShown, setNotShown] = useState<string | null>(null);
  const leadTo = async (item: string, words: string): Promise<void> => {
    const isThere = await onItem(item, words);
    setNotShown(isThere ? null : item);
    if (isThere) setOpen(false);
  };
  return (
    <Popover.Root open={isOpen} onOpenChange={setOpen}>
      <Popover.Trigger asChild>
        <Button look="chip" className="border-rust/40 bg-rust-soft text-rust-strong">
          {t('viewer.problems', { count: state.problems.length })}
        </Button>
      </Popover.Trigger>
      <Panel
        label={t('viewer.problems', { count: state.problems.length })}
        align="end"
        className="w-96 p-3 [--panel-height:384px]"
      >
        <ul className="space-y-2">
          {state.problems.map((p) => (
            <li key={problemKey(p)}>
              {p.place.report && <b>{p.place.report}: </b>}
              {problemWords(p)}
              {p.place.item !== undefined && (
                <button
                  type="button"
                  className="ms-1.5 text-pine underline underline-offset-2"
                  onClick={() => leadTo(p.place.item!, problemWords(p))}
                >
                  {t('viewer.showItem')}
                </button>
              )}
              {p.place.item !== undefined && p.place.item === notShown && (
                <p role="status" className="text-ink-2">
                  {t('viewer.itemNotShown')}
                </p>
              )}
            </li>
          ))}
        </ul>
      </Panel>
    </Popover.Root>
  );
};

/** What is wrong with items of a report, by their ids. */
export const wordsOfItems = (problems: readonly Problem[]): ReadonlyMap<string, string> => {
  const words = new Map<string, string>();
  for (const p of problems) {
    const { item } = p.place;
    if (item !== undefined && !words.has(item)) words.set(item, problemWords(p));
  }
  return words;
};

interface TroubleProps {
  error: unknown;
  state: RunState | null;
  retry: () => void;
}

/** Why there are no pages, or no more of them. */
export const Trouble = ({ error, state, retry }: TroubleProps) => {
  const { t } = useTranslation();
  const said = useFailureText();
  const again = <Button onClick={retry}>{t('viewer.again')}</Button>;
  if (error) return <Failure error={error} title={said(error).title} retry={retry} />;
  if (state?.status === 'failed') {
    return (
      <Notice title={t('viewer.failed')} action={again}>
        {state.said !== null && saidWords(state.said)}
      </Notice>
    );
  }
  if (state?.status === 'cancelled') return <Notice action={again}>{t('viewer.cancelled')}</Notice>;
  return null;
};
