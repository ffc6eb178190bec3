import { Popover } from 'radix-ui';
import type { RunState } from '../api/client.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { problemKey, problemWords, saidWords } from '../i18n/words.ts';
import { Button, Notice } from '../ui/controls.tsx';
import { Failure, useFailureText } from '../ui/failure.tsx';
import { Panel } from '../ui/panel.tsx';

/** What was found wrong with a report while it ran. */
export const Problems = ({ state }: { state: RunState }) => {
  const { t } = useTranslation();
  return (
    <Popover.Root>
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
            </li>
          ))}
        </ul>
      </Panel>
    </Popover.Root>
  );
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
