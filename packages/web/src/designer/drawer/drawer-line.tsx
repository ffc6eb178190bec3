import type { Drawer, Entity, Model, Parameter } from '@gaveta/core/internal';
import { ChevronDown, ChevronRight, Plus } from 'lucide-react';
import { Popover } from 'radix-ui';
import { memo, type ReactNode } from 'react';
import { fieldsOfRow } from '../../data/fields-of-row.ts';
import { useTranslation } from '../../i18n/use-translation.ts';
import { Panel } from '../../ui/panel.tsx';
import { useLiveView } from '../design/context.ts';
import { openAdd } from '../design/overlay.ts';
import { useDesigner } from '../design/state.ts';
import { drawerLabel } from '../design/words.ts';
import { FilterEditor, FirstEditor, SortEditor } from './drawer-editors.tsx';
import { GroupsEditor } from './group-editor.tsx';
import { filterWords, groupsWords, rowsWords, sortWords } from './sentence.ts';

interface LineProps {
  drawer: Drawer;
  /** Name of the drawer around. */
  outer: string | null;
  entity: Entity | null;
  model: Model | null;
  parameters: readonly Parameter[];
  depth: number;
  collapsed: boolean;
  /** In CSS pixels. */
  top: number;
  height: number;
  /** The part of the page's width that it has; null where it has all of it. */
  across: { left: number; width: number } | null;
}

/** The head of a drawer's tray on the board: what its rows are, in words that can be changed where they stand. */
export const DrawerLine = memo((line: LineProps) => {
  const { drawer, outer, entity, model, parameters, depth, collapsed, top, height, across } = line;
  const { t } = useTranslation();
  const isSelected = useDesigner((s) => s.focus.kind === 'drawer' && s.focus.drawer === drawer.id);
  const fields = fieldsOfRow(entity, model);
  const { focusOn, fold } = useDesigner.getState();
  const isEmpty = useLiveView((view) => view.rows?.[drawer.id] === 0);
  const sorted = drawer.sort?.map((s) => sortWords(t, s, fields)).join(t('drawer.then'));
  const name = drawerLabel(drawer);
  return (
    <div
      data-drawer-line={drawer.id}
      data-own-press
      className={`absolute z-[5] flex items-center gap-1 overflow-hidden border-b border-rule-soft px-1 text-[11.5px] whitespace-nowrap ${isSelected ? 'bg-brass-soft' : 'bg-brass-soft/45'}`}
      style={{ top, height, ...(across ?? { left: 0, right: 0 }), paddingLeft: across ? 4 : 4 + depth * 10 }}
    >
      <button
        type="button"
        aria-label={t(collapsed ? 'drawer.open' : 'drawer.close', { name })}
        aria-expanded={!collapsed}
        className="grid size-4 flex-none place-items-center rounded hover:bg-paper/70"
        onClick={() => fold(drawer.id)}
      >
        {collapsed ? <ChevronRight size={12} aria-hidden /> : <ChevronDown size={12} aria-hidden />}
      </button>
      <button
        type="button"
        aria-label={t('drawer.select', { name, rows: rowsWords(t, drawer, outer, entity) })}
        className={`rounded px-1 font-semibold hover:bg-paper/70 ${isSelected ? 'text-pine' : ''}`}
        onClick={() => focusOn({ kind: 'drawer', drawer: drawer.id })}
      >
        {rowsWords(t, drawer, outer, entity)}
      </button>
      {isEmpty && <span className="rounded bg-rust-soft px-1 text-rust-strong">{t('drawer.noRows')}</span>}
      <Phrase
        label={t('drawer.sort')}
        words={sorted}
        editor={<SortEditor drawer={drawer} fields={fields} />}
        name={name}
        narrow={across !== null}
      />
      <Phrase
        label={t('drawer.filter')}
        words={drawer.filter && t('drawer.only', { words: filterWords(t, drawer.filter, fields, parameters) })}
        editor={<FilterEditor drawer={drawer} entity={entity} fields={fields} />}
        name={name}
        narrow={across !== null}
        long
      />
      <Phrase
        label={t('drawer.group')}
        words={drawer.groups?.length ? t('drawer.groupedBy', { words: groupsWords(t, drawer, fields) }) : undefined}
        editor={<GroupsEditor drawer={drawer} fields={fields} />}
        name={name}
        narrow={across !== null}
      />
      <Phrase
        label={t('drawer.first')}
        words={drawer.first === undefined ? undefined : t('drawer.firstN', { count: drawer.first })}
        editor={<FirstEditor drawer={drawer} />}
        name={name}
        narrow={across !== null}
      />
      <button
        type="button"
        aria-label={t('drawer.addTo', { name })}
        title={t('drawer.addTo', { name })}
        className="ms-auto grid size-[18px] flex-none place-items-center rounded-full text-pine hover:bg-paper"
        onClick={(event) => {
          focusOn({ kind: 'drawer', drawer: drawer.id });
          openAdd({ x: event.clientX, y: event.clientY });
        }}
      >
        <Plus size={13} aria-hidden />
      </button>
    </div>
  );
});

interface PhraseProps {
  /** What it is about, where nothing is set yet. */
  label: string;
  words: string | undefined;
  editor: ReactNode;
  /** Name of the drawer. */
  name: string;
  /** Left out while nothing is set. */
  narrow: boolean;
  /** Gives way to the others where there is little room. */
  long?: boolean;
}

/** One part of the sentence; pressing it opens its editor. */
const Phrase = ({ label, words, editor, name, narrow, long = false }: PhraseProps) =>
  narrow && !words ? null : (
    <Popover.Root>
      <Popover.Trigger asChild>
        <button
          type="button"
          aria-label={`${name}: ${words ?? label}`}
          className={`${long ? 'min-w-14 shrink-[100000]' : 'min-w-0'} overflow-hidden rounded px-1 text-ellipsis hover:bg-paper/70 ${words ? 'text-ink underline decoration-brass decoration-dotted underline-offset-2' : 'flex-none text-ink-2'}`}
        >
          {words ?? label}
        </button>
      </Popover.Trigger>
      <Panel
        label={`${name}: ${label}`}
        align="start"
        className="w-[340px] p-3 text-[13px] whitespace-normal [--panel-height:70vh]"
      >
        <h3 className="mb-1.5 text-[12px] font-semibold">{label}</h3>
        {editor}
      </Panel>
    </Popover.Root>
  );
