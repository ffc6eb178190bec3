import type { Field, Reached } from '@gaveta/core/internal';
import { Command } from 'cmdk';
import { Plus } from 'lucide-react';
import { Popover } from 'radix-ui';
import { type ReactNode, useState } from 'react';
import { useTranslation } from '../i18n/use-translation.ts';
import { FoundList } from '../ui/found-list.tsx';
import { matchWords } from '../ui/match.ts';
import { Panel } from '../ui/panel.tsx';
import { useParts } from './parts.ts';
import { useWayWords } from './way-words.ts';

interface FieldListProps {
  label: string;
  /** Which fields are offered. */
  takes: (field: Field, at: Reached) => boolean;
  onPick: (path: string) => void;
}

/** Fields in reach by the tables that they are of, to search and pick one. */
export const FieldSearch = ({ label, takes, onPick }: FieldListProps) => {
  const { t } = useTranslation();
  const { reach } = useParts();
  const words = useWayWords();
  let place = 0;
  return (
    <Command label={label} filter={matchWords} loop className="flex min-h-0 flex-1 flex-col">
      <Command.Input
        autoFocus
        placeholder={label}
        className="h-8 w-full flex-none border-b border-rule bg-paper px-2.5 outline-none"
      />
      <FoundList className="max-h-72 min-h-0 flex-1 p-1">
        <Command.Empty className="px-2 py-2 text-ink-3">{t('add.none')}</Command.Empty>
        {reach.map((at) => {
          const fields = at.fields.filter((field) => !field.hidden && field.type !== 'picture' && takes(field, at));
          if (fields.length === 0) return null;
          const { title, note } = words(at);
          return (
            <Command.Group
              key={at.way.join('.')}
              heading={
                <span className="px-2 text-[11.5px] text-ink-3">
                  {title}
                  {note && ` · ${note}`}
                </span>
              }
            >
              {fields.map((field) => {
                const path = [...at.way, field.name].join('.');
                return (
                  <Command.Item
                    key={path}
                    value={path}
                    keywords={[`${field.label} ${title}`, note, String(place++)]}
                    className="command-item truncate rounded px-2 py-0.5"
                    onSelect={() => onPick(path)}
                  >
                    {field.label}
                  </Command.Item>
                );
              })}
            </Command.Group>
          );
        })}
      </FoundList>
    </Command>
  );
};

interface PickProps extends FieldListProps {
  id: string;
  /** What is asked about the field that was picked, in the same panel. */
  follow?: (path: string) => ReactNode;
}

/** A small plus where the sentence can grow. */
export const FieldPick = ({ label, takes, onPick, id, follow }: PickProps) => {
  const [open, setOpen] = useState(false);
  const [picked, setPicked] = useState<string | null>(null);
  return (
    <Popover.Root
      open={open}
      onOpenChange={(next) => {
        setOpen(next);
        setPicked(null);
      }}
    >
      <Popover.Trigger asChild>
        <button
          type="button"
          aria-label={label}
          title={label}
          data-pick={id}
          className="inline-grid size-5 place-items-center rounded-full border border-dashed border-ink-3 align-middle text-ink-2 hover:border-pine hover:text-pine"
        >
          <Plus size={12} aria-hidden />
        </button>
      </Popover.Trigger>
      <Panel label={label} align="start" className="flex w-72 flex-col overflow-auto [--panel-height:560px]">
        {picked !== null && follow ? (
          <div className="p-3">{follow(picked)}</div>
        ) : (
          <FieldSearch
            label={label}
            takes={takes}
            onPick={(path) => {
              if (follow) setPicked(path);
              else setOpen(false);
              onPick(path);
            }}
          />
        )}
      </Panel>
    </Popover.Root>
  );
};
