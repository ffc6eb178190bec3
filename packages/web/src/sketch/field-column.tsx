import {
  type DataType,
  groupsOf,
  type Reached,
  withAcross,
  withColumn,
  withGroup,
  withoutColumn,
} from '@gaveta/core/internal';
import { MoreHorizontal } from 'lucide-react';
import { DropdownMenu, Popover } from 'radix-ui';
import { type KeyboardEvent, useState } from 'react';
import { useTranslation } from '../i18n/use-translation.ts';
import { inputLook } from '../ui/controls.tsx';
import { startDrag } from '../ui/drag.ts';
import { MenuLine } from '../ui/menu-line.tsx';
import { Panel } from '../ui/panel.tsx';
import { FilterPanel } from './filter.tsx';
import { NewFormula } from './formula-line.tsx';
import { useParts } from './parts.ts';
import { useWayWords } from './way-words.ts';
import { columnLabel } from './words.ts';

/** A sign for what values a field has. */
const SIGNS: Record<DataType, string> = {
  text: 'Aa',
  number: '12',
  boolean: '✓',
  date: '31',
  datetime: '31',
  picture: '▣',
};

/** Arrows lead from field to field, and from one to what else can be done with it. */
const moveOn = (event: KeyboardEvent<HTMLDivElement>): void => {
  const all = [...event.currentTarget.querySelectorAll<HTMLElement>('[data-field]')];
  const at = all.findIndex((field) => field.parentElement?.contains(event.target as Node));
  const field = all[at];
  if (!field || event.ctrlKey || event.metaKey || event.altKey) return;
  const more = field.parentElement?.querySelector<HTMLElement>('[data-more]');
  const isRtl = getComputedStyle(field).direction === 'rtl';
  const moves: Record<string, HTMLElement | null | undefined> = {
    ArrowDown: all[at + 1],
    ArrowUp: all[at - 1],
    Home: all[0],
    End: all.at(-1),
    [isRtl ? 'ArrowLeft' : 'ArrowRight']: more,
    [isRtl ? 'ArrowRight' : 'ArrowLeft']: field,
  };
  if (!(event.key in moves)) return;
  event.preventDefault();
  moves[event.key]?.focus();
};

/** All fields in reach, by the tables that they are of. */
export const FieldColumn = ({ onDrop }: { onDrop: (path: string, zone: string) => void }) => {
  const { t } = useTranslation();
  const { sketch, change, reach } = useParts();
  const words = useWayWords();
  const [find, setFind] = useState('');
  const [making, setMaking] = useState(false);
  const wanted = find.trim().toLowerCase();
  const calculated = sketch.columns.filter(({ formula, ofLine }) => formula !== undefined || ofLine !== undefined);
  const isFound = (label: string, at: Reached): boolean =>
    wanted === '' || `${label} ${at.label}`.toLowerCase().includes(wanted);
  const tables = reach.map((at) => ({
    at,
    fields: at.fields.filter((field) => !field.hidden && field.type !== 'picture' && isFound(field.label, at)),
  }));
  const firstTable = tables.find(({ fields }) => fields.length > 0);
  const isNone = tables.every(({ fields }) => fields.length === 0);
  const hidden = sketch.columns.filter((column) => column.hidden);
  return (
    <section
      aria-label={t('sketch.fields')}
      className="flex min-h-0 w-[232px] flex-none flex-col border-e border-rule max-md:hidden"
    >
      <div className="p-2.5 pb-1.5">
        <input
          type="search"
          className={inputLook}
          aria-label={t('sketch.findField')}
          placeholder={t('sketch.findField')}
          value={find}
          onChange={({ target }) => setFind(target.value)}
        />
      </div>
      {/* biome-ignore lint/a11y/noStaticElementInteractions: arrows lead from field to field, which are the buttons */}
      <div className="min-h-0 flex-1 overflow-auto px-2.5 pb-3" onKeyDown={moveOn}>
        {isNone && <p className="px-1 py-2 text-ink-3">{t('sketch.noField', { text: find })}</p>}
        {tables.map(({ at, fields }) => {
          if (fields.length === 0) return null;
          const { title, note } = words(at);
          return (
            <section key={at.way.join('.')} aria-label={`${title} ${note}`} className="mb-2.5">
              <h2 className="flex items-baseline gap-2 px-1 py-0.5">
                <span className="font-semibold">{title}</span>
                <span className="ms-auto truncate text-[11px] text-ink-2">{note}</span>
              </h2>
              <ul>
                {fields.map((field) => (
                  <FieldLine
                    key={field.name}
                    at={at}
                    field={field}
                    isFirst={at === firstTable?.at && field === firstTable.fields[0]}
                    onDrop={onDrop}
                  />
                ))}
              </ul>
            </section>
          );
        })}
        {(calculated.length > 0 || hidden.length > 0) && (
          <section aria-label={t('sketch.yours')} className="mb-2.5">
            <h2 className="px-1 py-0.5 font-semibold">{t('sketch.yours')}</h2>
            <ul>
              {calculated.map((column) => (
                <li key={column.name} className="flex items-center gap-2 rounded bg-pine-soft px-1.5 py-0.5">
                  <span aria-hidden className="w-5 text-[11px] text-ink-2 italic">
                    ƒ
                  </span>
                  <span className="min-w-0 flex-1 truncate">{columnLabel(column, reach)}</span>
                  <button
                    type="button"
                    className="text-[11px] text-pine"
                    onClick={() => change(withoutColumn(sketch, column.name))}
                  >
                    {t('sketch.remove')}
                  </button>
                </li>
              ))}
              {hidden.map((column) => (
                <li key={`hidden ${column.name}`} className="flex items-center gap-2 px-1.5 py-0.5">
                  <span className="min-w-0 flex-1 truncate text-ink-3">{columnLabel(column, reach)}</span>
                  <button
                    type="button"
                    className="text-[11px] text-pine"
                    onClick={() =>
                      change({
                        ...sketch,
                        columns: sketch.columns.map(({ hidden: was, ...rest }) =>
                          rest.name === column.name ? rest : was ? { ...rest, hidden: was } : rest,
                        ),
                      })
                    }
                  >
                    {t('sketch.showAgain')}
                  </button>
                </li>
              ))}
            </ul>
          </section>
        )}
      </div>
      <div className="flex-none border-t border-rule-soft px-2.5 py-1.5">
        <Popover.Root open={making} onOpenChange={setMaking}>
          <Popover.Trigger asChild>
            <button type="button" className="rounded px-1 text-pine hover:bg-pine-soft">
              + {t('sketch.calculatedDots')}
            </button>
          </Popover.Trigger>
          <Panel label={t('sketch.newFormula')} align="start" className="w-80">
            <NewFormula onClose={() => setMaking(false)} />
          </Panel>
        </Popover.Root>
      </div>
    </section>
  );
};

interface LineProps {
  at: Reached;
  field: Reached['fields'][number];
  /** Where Tab leads to. */
  isFirst: boolean;
  onDrop: (path: string, zone: string) => void;
}

const FieldLine = ({ at, field, isFirst, onDrop }: LineProps) => {
  const { t } = useTranslation();
  const { sketch, change, reach } = useParts();
  const [filters, setFilters] = useState(false);
  const path = [...at.way, field.name].join('.');
  const columns = sketch.columns.filter((column) => column.field === path);
  const isGroup = groupsOf(sketch).some((group) => group.field === path);
  const isUsed = columns.length > 0 || isGroup;
  const turn = (): void =>
    change(
      columns.length > 0
        ? columns.reduce((next, { name }) => withoutColumn(next, name), sketch)
        : withColumn(sketch, path, reach),
    );
  return (
    <li className={`group flex items-center rounded ${isUsed ? 'bg-pine-soft' : 'hover:bg-desk/50'}`}>
      <button
        type="button"
        aria-pressed={columns.length > 0}
        data-field={path}
        tabIndex={isFirst ? 0 : -1}
        title={field.description}
        className="flex min-w-0 flex-1 touch-none items-center gap-2 px-1.5 py-0.5 text-start"
        onPointerDown={(event) => startDrag(event, { what: path, label: field.label }, (zone) => onDrop(path, zone))}
        onClick={turn}
      >
        <span aria-hidden className="w-5 flex-none text-[11px] text-ink-2">
          {SIGNS[field.type]}
        </span>
        <span className={`min-w-0 flex-1 truncate ${isUsed ? 'font-semibold text-pine' : ''}`}>{field.label}</span>
        {isUsed && <span className="text-[11px] text-ink-2">{t('sketch.inUse')}</span>}
      </button>
      <Popover.Root open={filters} onOpenChange={setFilters}>
        <Popover.Anchor asChild>
          <span>
            <DropdownMenu.Root>
              <DropdownMenu.Trigger asChild>
                <button
                  type="button"
                  data-more
                  tabIndex={-1}
                  aria-label={t('sketch.moreOf', { field: field.label })}
                  className="rounded px-1 text-ink-3 opacity-0 group-hover:opacity-100 focus-visible:opacity-100 aria-expanded:opacity-100"
                >
                  <MoreHorizontal size={14} aria-hidden />
                </button>
              </DropdownMenu.Trigger>
              <DropdownMenu.Portal>
                <DropdownMenu.Content
                  align="start"
                  className="z-60 rounded-lg border border-rule bg-paper p-1 shadow-lg"
                  // The keyboard goes to the panel that a choice opened.
                  onCloseAutoFocus={(event) => filters && event.preventDefault()}
                >
                  <MenuLine onSelect={() => change(withColumn(sketch, path, reach))}>{t('sketch.showField')}</MenuLine>
                  {!at.isMany && (
                    <MenuLine onSelect={() => change(withGroup(sketch, path, reach, t('sketch.rowCount')))}>
                      {t('sketch.forEachField')}
                    </MenuLine>
                  )}
                  {!at.isMany && (
                    <MenuLine onSelect={() => change(withAcross(sketch, path, reach, t('sketch.rowCount')))}>
                      {t('sketch.putAcross')}
                    </MenuLine>
                  )}
                  {!at.isMany && <MenuLine onSelect={() => setFilters(true)}>{t('sketch.keepOnlyDots')}</MenuLine>}
                </DropdownMenu.Content>
              </DropdownMenu.Portal>
            </DropdownMenu.Root>
          </span>
        </Popover.Anchor>
        <Panel label={t('sketch.addCondition')} align="start" className="w-72 overflow-auto p-3 [--panel-height:560px]">
          <FilterPanel about={{ field: path }} />
        </Panel>
      </Popover.Root>
    </li>
  );
};
