import type { Step, StepKind } from '@gaveta/core/internal';
import { Plus } from 'lucide-react';
import { Popover } from 'radix-ui';
import { useTranslation } from '../i18n/use-translation.ts';
import { Button } from '../ui/controls.tsx';
import { Panel } from '../ui/panel.tsx';
import { type SourceChoice, sourceOf } from './sources.ts';
import { NEW_STEPS } from './step-rooms.ts';

/** The menu of steps, each with a sentence. */
export const AddStep = ({ onAdd }: { onAdd: (kind: StepKind) => void }) => {
  const { t } = useTranslation();
  return (
    <Popover.Root>
      <Popover.Trigger asChild>
        <Button className="mt-2.5 ms-6">
          <Plus size={14} aria-hidden /> {t('data.addStep')}
        </Button>
      </Popover.Trigger>
      <Panel label={t('data.addStep')} align="start" className="w-80 p-1.5">
        <ul>
          {NEW_STEPS.map((kind) => (
            <li key={kind}>
              <Popover.Close asChild>
                <button
                  type="button"
                  className="block w-full rounded px-2 py-1.5 text-start hover:bg-desk/60"
                  onClick={() => onAdd(kind)}
                >
                  <b>{t(`data.step_${kind}`)}</b>
                  <span className="block text-[12px] text-ink-2">{t(`data.help_${kind}`)}</span>
                </button>
              </Popover.Close>
            </li>
          ))}
        </ul>
      </Panel>
    </Popover.Root>
  );
};

interface FirstStepProps {
  sources: readonly SourceChoice[];
  canSql: boolean;
  database: string;
  onTake: (step: Step) => void;
}

/** An empty recipe asks where its rows come from. */
export const FirstStep = ({ sources, canSql, database, onTake }: FirstStepProps) => {
  const { t } = useTranslation();
  const groups = [...new Set(sources.map((s) => s.group))];
  return (
    <div>
      <h2 className="mb-1 font-semibold">{t('data.whereFrom')}</h2>
      {groups.map((group) => (
        <section key={group} className="mb-2">
          <h3 className="text-ink-3">{group}</h3>
          <div className="flex flex-wrap gap-1">
            {sources
              .filter((s) => s.group === group)
              .map((s) => (
                <Button
                  key={s.id}
                  onClick={() => {
                    onTake({ step: 'take', from: sourceOf(s.id) });
                  }}
                >
                  {s.label}
                </Button>
              ))}
          </div>
        </section>
      ))}
      {canSql && (
        <Button className="mt-2" onClick={() => onTake({ step: 'sql', model: database, text: '', columns: [] })}>
          {t('data.writeSql')}
        </Button>
      )}
    </div>
  );
};
