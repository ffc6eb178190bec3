import { Command } from 'cmdk';
import { Plus } from 'lucide-react';
import { Popover } from 'radix-ui';
import { useState } from 'react';
import { useTranslation } from '../i18n/use-translation.ts';
import { FoundList } from './found-list.tsx';
import { matchWords } from './match.ts';
import { Panel } from './panel.tsx';

interface PickProps<V extends string> {
  /** What is picked, on the button. */
  label: string;
  choices: readonly { value: V; label: string; note?: string }[];
  onPick: (value: V) => void;
  /** `primary`: what is to be done next. */
  look?: 'quiet' | 'primary';
}

/** A button that opens a list to search and pick one of; unlike a select, nothing happens while one looks through it. */
export const Pick = <V extends string>({ label, choices, onPick, look = 'quiet' }: PickProps<V>) => {
  const { t } = useTranslation();
  const [open, setOpen] = useState(false);
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger asChild>
        <button
          type="button"
          className={`items-center gap-1 rounded disabled:opacity-45 ${look === 'primary' ? 'inline-flex bg-pine px-3 py-1.5 font-semibold text-on-accent' : 'flex self-start px-1 text-pine hover:bg-pine-soft'}`}
          disabled={choices.length === 0}
        >
          <Plus size={12} aria-hidden /> {label}
        </button>
      </Popover.Trigger>
      <Panel label={label} align="start" className="flex w-64 flex-col overflow-hidden">
        <Command label={label} filter={matchWords} loop className="flex min-h-0 flex-1 flex-col">
          <Command.Input
            autoFocus
            placeholder={label}
            className="h-8 w-full flex-none border-b border-rule bg-paper px-2.5 outline-none"
          />
          <FoundList className="max-h-64 min-h-0 flex-1 p-1">
            <Command.Empty className="px-2 py-2 text-ink-3">{t('add.none')}</Command.Empty>
            {choices.map((choice, i) => (
              <Command.Item
                key={choice.value}
                value={choice.value}
                keywords={[choice.label, choice.note ?? '', String(i)]}
                className="command-item truncate rounded px-2 py-0.5"
                onSelect={() => {
                  setOpen(false);
                  onPick(choice.value);
                }}
              >
                {choice.label}
                {choice.note && <span className="ms-2 text-[11px] text-ink-2">{choice.note}</span>}
              </Command.Item>
            ))}
          </FoundList>
        </Command>
      </Panel>
    </Popover.Root>
  );
};
