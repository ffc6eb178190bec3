import { Command } from 'cmdk';
import { useState } from 'react';
import { useThemes } from '../../api/use-themes.ts';
import { useTranslation } from '../../i18n/use-translation.ts';
import { FoundList } from '../../ui/found-list.tsx';
import { matchWords } from '../../ui/match.ts';
import { useDesign } from '../design/context.ts';
import { closeOverlay, useOverlay } from '../design/overlay.ts';
import { useDesigner } from '../design/state.ts';
import { addEntries } from './add-entries.ts';
import { addEntry } from './add-menu.tsx';
import { commands, type Command as OneCommand, type ScreenActions } from './commands.ts';
import { Floating } from './floating.tsx';
import { shownKey } from './keys.ts';
import { type NamedCommand, placeCommands } from './place-commands.ts';

const SECTIONS = ['edit', 'arrange', 'columns', 'select', 'board', 'report'] as const;

const corner = (width: number) => ({ x: (window.innerWidth - width) / 2, y: 80 });

const Key = ({ keys }: { keys: string }) => (
  <kbd className="ms-auto flex-none rounded bg-desk px-1.5 font-mono text-[11px]">{shownKey(keys)}</kbd>
);

/** Everything that can be done now, found by typing. */
export const Palette = ({ screen }: { screen: ScreenActions }) => {
  const { t } = useTranslation();
  const [search, setSearch] = useState(useOverlay.getState().search);
  const { report, model, models, recipes, entities } = useDesign();
  const themes = useThemes().all;
  const band = useDesigner((s) => s.band);
  const able = commands(screen).filter((c) => c.id !== 'commands' && (!c.when || c.when()));
  return (
    <Floating label={t('command.commands')} at={corner(480)} width={480}>
      <Command label={t('command.commands')} filter={matchWords} loop>
        <Command.Input
          autoFocus
          value={search}
          onValueChange={setSearch}
          placeholder={t('command.find')}
          className="h-10 w-full border-b border-rule bg-paper px-3 outline-none"
        />
        <FoundList className="max-h-[360px] p-1.5">
          <Command.Empty className="px-2 py-3 text-ink-3">{t('command.none')}</Command.Empty>
          {SECTIONS.map((section) => {
            const shown = able.filter((c) => c.section === section);
            if (shown.length === 0) return null;
            return (
              <Command.Group key={section} heading={t(`command.section_${section}`)} className="command-group">
                {shown.map((command) => (
                  <Command.Item
                    key={command.id}
                    value={command.id}
                    keywords={[t(`command.${command.id}`)]}
                    className="command-item flex items-center gap-2 rounded px-2 py-1"
                    onSelect={() => {
                      closeOverlay();
                      command.run(t);
                    }}
                  >
                    {t(`command.${command.id}`)}
                    {command.keys && <Key keys={command.keys} />}
                  </Command.Item>
                ))}
              </Command.Group>
            );
          })}
          <NamedGroup name="place" list={placeCommands(t, search.trim() !== '')} />
          {/* Everything that can be added, where the selection is. Found only by searching, so that the list stays short. */}
          {search.trim() !== '' && (
            <NamedGroup
              name="add"
              list={addEntries({ t, report, model, models, recipes, themes, entities, address: band, point: null }).map(
                (entry) => {
                  const title = t('command.addNamed', { what: entry.title });
                  return { id: entry.id, title, run: () => addEntry(entry, t('edits.add', { what: entry.title })) };
                },
              )}
            />
          )}
        </FoundList>
      </Command>
    </Floating>
  );
};

/** Commands that are named after what they are done with. */
const NamedGroup = ({ name, list }: { name: 'place' | 'add'; list: readonly NamedCommand[] }) => {
  const { t } = useTranslation();
  if (list.length === 0) return null;
  return (
    <Command.Group heading={t(`command.section_${name}`)} className="command-group">
      {list.map((command, i) => (
        <Command.Item
          key={command.id}
          value={`${name}-${command.id}`}
          keywords={[command.title, '', String(i)]}
          className="command-item truncate rounded px-2 py-1"
          onSelect={() => {
            closeOverlay();
            command.run();
          }}
        >
          {command.title}
        </Command.Item>
      ))}
    </Command.Group>
  );
};

/** Keys of the board that are no command of their own. */
const MORE_KEYS = ['arrows', 'shiftArrows', 'altArrows', 'bandHeight', 'tab', 'enter', 'altClick', 'escape'] as const;

/** All keys on one sheet. */
export const KeySheet = ({ screen }: { screen: ScreenActions }) => {
  const { t } = useTranslation();
  const all: OneCommand[] = commands(screen).filter((c) => c.keys);
  return (
    <Floating label={t('command.keys')} at={corner(640)} width={640}>
      <div className="max-h-[70vh] overflow-auto p-4">
        <h2 className="mb-2 text-[15px] font-semibold">{t('command.keys')}</h2>
        <dl className="grid grid-cols-2 gap-x-8 gap-y-1">
          {all.map((command) => (
            <div key={command.id} className="flex items-center gap-2 border-b border-rule-soft py-0.5">
              <dt>{t(`command.${command.id}`)}</dt>
              <dd className="ms-auto">
                <Key keys={command.keys!} />
              </dd>
            </div>
          ))}
          {MORE_KEYS.map((key) => (
            <div key={key} className="flex items-center gap-2 border-b border-rule-soft py-0.5">
              <dt>{t(`command.key_${key}`)}</dt>
              <dd className="ms-auto">
                <kbd className="rounded bg-desk px-1.5 font-mono text-[11px]">{t(`command.keyName_${key}`)}</kbd>
              </dd>
            </div>
          ))}
        </dl>
        <button type="button" className="mt-3 rounded-md border border-rule px-3 py-1" onClick={closeOverlay}>
          {t('app.close')}
        </button>
      </div>
    </Floating>
  );
};
