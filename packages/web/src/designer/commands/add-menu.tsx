import { Command } from 'cmdk';
import { useMemo } from 'react';
import { useThemes } from '../../api/use-themes.ts';
import { useTranslation } from '../../i18n/use-translation.ts';
import { FoundList } from '../../ui/found-list.tsx';
import { matchWords } from '../../ui/match.ts';
import { useDesign } from '../design/context.ts';
import { closeOverlay, useOverlay } from '../design/overlay.ts';
import { useDesigner } from '../design/state.ts';
import { type AddEntry, addEntries } from './add-entries.ts';
import { Floating } from './floating.tsx';

const SECTIONS = ['items', 'drawers', 'groups', 'bands'] as const;

/** Does what an entry says and selects what came of it. */
export const addEntry = (entry: AddEntry, name: string): void => {
  const { edit, select, focusOn, startEditing } = useDesigner.getState();
  edit(name, entry.edit);
  if ('items' in entry.select) select(entry.select.items);
  else if ('drawer' in entry.select) focusOn({ kind: 'drawer', drawer: entry.select.drawer });
  else focusOn({ kind: 'band', band: entry.select.band });
  document.querySelector<HTMLElement>('[data-testid="board"]')?.focus({ preventScroll: true });
  if (entry.typing && 'items' in entry.select) startEditing(entry.select.items[0]!);
};

/** What can be added where the selection or the pointer is, found by typing. */
export const AddMenu = () => {
  const { t } = useTranslation();
  const { at, point } = useOverlay();
  const { report, model, models, recipes, entities } = useDesign();
  const themes = useThemes().all;
  const band = useDesigner((s) => s.band);
  const focus = useDesigner((s) => s.focus);
  const address =
    point?.address ?? (focus.kind === 'drawer' ? ({ drawer: focus.drawer, band: 'detail' } as const) : band);
  const entries = useMemo(
    () => addEntries({ t, report, model, models, recipes, themes, entities, address, point }),
    [t, report, model, models, recipes, themes, entities, address, point],
  );
  return (
    <Floating label={t('add.title')} at={at} width={340}>
      <Command label={t('add.title')} filter={matchWords} loop>
        <Command.Input
          autoFocus
          placeholder={t('add.find')}
          className="h-9 w-full border-b border-rule bg-paper px-3 outline-none"
        />
        <FoundList className="max-h-[340px] p-1.5">
          <Command.Empty className="px-2 py-3 text-ink-3">{t('add.none')}</Command.Empty>
          {SECTIONS.map((section) => {
            const shown = entries.filter((e) => e.section === section);
            if (shown.length === 0) return null;
            return (
              <Command.Group key={section} heading={t(`add.section_${section}`)} className="command-group">
                {shown.map((entry) => {
                  const Picture = entry.icon;
                  return (
                    <Command.Item
                      key={entry.id}
                      value={entry.id}
                      keywords={[entry.title, entry.sentence, String(entries.indexOf(entry))]}
                      className="command-item flex items-center gap-2 rounded px-2 py-1"
                      onSelect={() => {
                        closeOverlay();
                        addEntry(entry, t('edits.add', { what: entry.title }));
                      }}
                    >
                      <Picture size={16} aria-hidden className="flex-none text-brass" />
                      <span className="min-w-0">
                        <span className="block truncate">{entry.title}</span>
                        <span className="block truncate text-[11px] text-ink-2">{entry.sentence}</span>
                      </span>
                    </Command.Item>
                  );
                })}
              </Command.Group>
            );
          })}
        </FoundList>
      </Command>
    </Floating>
  );
};
