import type { Step, StepKind } from '@gaveta/core/internal';
import { Command } from 'cmdk';
import { Plus } from 'lucide-react';
import { Popover } from 'radix-ui';
import { useState } from 'react';
import { useTranslation } from '../i18n/use-translation.ts';
import { Button } from '../ui/controls.tsx';
import { FoundList } from '../ui/found-list.tsx';
import { matchWords } from '../ui/match.ts';
import { Panel } from '../ui/panel.tsx';
import { type SourceChoice, sourceOf } from './sources.ts';
import { NEW_STEPS } from './step-rooms.ts';

/** The menu of steps, each with a sentence; typing finds one. */
export const AddStep = ({ onAdd }: { onAdd: (kind: StepKind) => void }) => {
  const { t } = useTranslation();
  const [open, setOpen] = useState(false);
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger asChild>
        <Button className="mt-2.5 ms-6">
          <Plus size={14} aria-hidden /> {t('data.addStep')}
        </Button>
      </Popover.Trigger>
      <Panel label={t('data.addStep')} align="start" className="flex w-80 flex-col overflow-hidden">
        <Command label={t('data.addStep')} filter={matchWords} loop className="flex min-h-0 flex-1 flex-col">
          <Command.Input
            autoFocus
            placeholder={t('data.findStep')}
            className="h-9 w-full flex-none border-b border-rule bg-paper px-3 outline-none"
          />
          <FoundList className="max-h-[60vh] min-h-0 flex-1 p-1.5">
            <Command.Empty className="px-2 py-2 text-ink-3">{t('add.none')}</Command.Empty>
            {NEW_STEPS.map((kind) => (
              <Command.Item
                key={kind}
                value={kind}
                keywords={[t(`data.step_${kind}`), t(`data.help_${kind}`)]}
                className="command-item rounded px-2 py-1"
                onSelect={() => {
                  setOpen(false);
                  onAdd(kind);
                }}
              >
                <b>{t(`data.step_${kind}`)}</b>
                <span className="block text-[12px] text-ink-2">{t(`data.help_${kind}`)}</span>
              </Command.Item>
            ))}
          </FoundList>
        </Command>
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
