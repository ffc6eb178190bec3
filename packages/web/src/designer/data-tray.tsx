import {
  type Drawer,
  drawersOf,
  type Entity,
  findBand,
  findEntity,
  itemFor,
  lowestItem,
  type Model,
  PAGE_VALUES,
  type Placeable,
  parameterType,
  type Report,
  shownFields,
} from '@gaveta/core';
import { ChevronDown, ChevronRight } from 'lucide-react';
import { type PointerEvent, useMemo, useState } from 'react';
import { useTranslation } from 'react-i18next';
import { DrawerMark, inputLook } from '../ui/controls.tsx';
import { followPointer } from './drag.ts';
import { dropAt } from './drop.ts';
import { useDesigner } from './state.ts';
import { drawerLabel } from './words.ts';

const TYPE_MARKS: Record<Placeable['type'], string> = {
  text: 'Aa',
  number: '12',
  date: '31',
  datetime: '31',
  boolean: '✓',
  picture: '▣',
};

interface Group {
  id: string;
  label: string;
  note: string;
  fields: Placeable[];
}

const entityOf = (report: Report, model: Model, drawer: Drawer, parents: Map<string, Drawer | null>): Entity | null => {
  if ('entity' in drawer.rows) return findEntity(model, drawer.rows.entity);
  const parent = parents.get(drawer.id);
  const outer = parent ? entityOf(report, model, parent, parents) : null;
  const { relation } = drawer.rows;
  const found = outer?.relations.find((r) => r.name === relation);
  return found ? findEntity(model, found.to) : null;
};

const groupsOf = (
  report: Report,
  model: Model | null,
  words: { parameters: string; page: string; its: (name: string) => string },
): Group[] => {
  const groups: Group[] = [];
  const drawers = [...drawersOf(report)];
  const parents = new Map(drawers.map(({ drawer, parent }) => [drawer.id, parent]));
  for (const { drawer } of drawers.reverse()) {
    const entity = model && entityOf(report, model, drawer, parents);
    if (!entity) continue;
    const own = shownFields(entity.fields).map(
      (f): Placeable => ({ label: f.label, type: f.type, drawer, path: [f.name] }),
    );
    groups.push({ id: drawer.id, label: drawerLabel(drawer), note: '', fields: own });
    for (const relation of entity.relations.filter((r) => r.kind === 'one')) {
      const target = findEntity(model, relation.to);
      // What a drawer around it brings is listed there.
      if (!target || drawers.some((d) => d.drawer.name === relation.name)) continue;
      const fields = shownFields(target.fields).map(
        (f): Placeable => ({ label: f.label, type: f.type, drawer, path: [relation.name, f.name] }),
      );
      groups.push({
        id: `${drawer.id}.${relation.name}`,
        label: relation.label,
        note: words.its(drawerLabel(drawer).toLowerCase()),
        fields,
      });
    }
  }
  const parameters = report.parameters.map((p): Placeable => {
    const type = parameterType(p);
    return { label: p.label, type: type === 'list' || type === 'any' ? 'text' : type, drawer: null, path: [p.name] };
  });
  if (parameters.length > 0)
    groups.push({ id: 'parameters', label: words.parameters, note: String(parameters.length), fields: parameters });
  const page = PAGE_VALUES.map(
    (name): Placeable => ({
      label: name.replace('.', ' ').replace('_', ' '),
      type: name === 'report.name' ? 'text' : name === 'report.run_at' ? 'datetime' : 'number',
      drawer: null,
      path: name.split('.'),
    }),
  );
  groups.push({ id: 'page', label: words.page, note: '', fields: page });
  return groups;
};

export const DataTray = ({ report, model }: { report: Report; model: Model | null }) => {
  const { t } = useTranslation();
  const [find, setFind] = useState('');
  const [closed, setClosed] = useState<Record<string, boolean>>({});
  const band = useDesigner((s) => s.band);
  const groups = useMemo(
    () =>
      groupsOf(report, model, {
        parameters: t('designer.parameters'),
        page: t('designer.pageValues'),
        its: (name) => t('designer.itsOne', { name }),
      }),
    [report, model, t],
  );
  const wanted = find.trim().toLowerCase();
  const shown = groups
    .map((g) => ({
      ...g,
      fields: g.fields.filter((f) => `${f.label} ${f.path.join('.')}`.toLowerCase().includes(wanted)),
    }))
    .filter((g) => g.fields.length > 0);
  // Fields of the selected band's drawer are open by themselves, the others on demand.
  const isOpen = (id: string): boolean =>
    wanted !== '' || !(closed[id] ?? (band?.drawer ? id !== band.drawer : groups[0]?.id !== id));
  return (
    <section aria-label={t('designer.data')} className="flex min-h-0 flex-col">
      <h2 className="flex h-8 flex-none items-center gap-2 px-3 text-[12px] font-semibold">
        {t('designer.data')} <DrawerMark />
      </h2>
      <input
        type="search"
        className={`${inputLook} mx-3 mb-1.5 max-w-[calc(100%-24px)] flex-none`}
        placeholder={t('designer.findField')}
        aria-label={t('designer.findField')}
        value={find}
        onChange={(event) => setFind(event.target.value)}
      />
      <div className="min-h-0 flex-1 overflow-auto px-1.5 pb-2">
        {shown.length === 0 && <p className="px-2 text-ink-3">{t('designer.noField', { text: find })}</p>}
        {shown.map((group) => (
          <div key={group.id}>
            <button
              type="button"
              aria-expanded={isOpen(group.id)}
              className="mt-0.5 flex h-6 w-full items-center gap-1.5 rounded px-1.5 text-left font-semibold hover:bg-desk/50"
              onClick={() => setClosed({ ...closed, [group.id]: isOpen(group.id) })}
            >
              {isOpen(group.id) ? <ChevronDown size={12} aria-hidden /> : <ChevronRight size={12} aria-hidden />}
              {group.label}
              <span className="ml-auto text-[11px] font-normal text-ink-3">{group.note}</span>
            </button>
            {isOpen(group.id) &&
              group.fields.map((field) => <FieldRow key={field.path.join('.')} field={field} group={group.id} />)}
          </div>
        ))}
        <p className="px-2 pt-2 text-[12px] text-ink-3">{t('designer.dragHint')}</p>
      </div>
    </section>
  );
};

const FieldRow = ({ field, group }: { field: Placeable; group: string }) => {
  const { t } = useTranslation();
  const [ghost, setGhost] = useState<{ x: number; y: number } | null>(null);
  const { edit, select } = useDesigner.getState();

  const place = (): void => {
    const { history, band } = useDesigner.getState();
    const target =
      band ??
      (field.drawer ? { drawer: field.drawer.id, band: 'detail' as const } : { drawer: null, band: 'header' as const });
    const found = history && findBand(history.report, target);
    if (!history || !found) return;
    // To the right of what is there already.
    const x = found.items.reduce((right, item) => Math.max(right, item.x + item.width + 2), 0);
    const item = itemFor(history.report, field, target, x > 150 ? 0 : x, x > 150 ? lowestItem(found) : 0);
    edit(t('edits.add', { what: field.label }), { do: 'add', band: target, items: [item] });
    select([item.id]);
  };

  const press = (event: PointerEvent): void => {
    if (event.button !== 0) return;
    followPointer(event, {
      move: (_dx, _dy, at) => setGhost({ x: at.clientX, y: at.clientY }),
      end: (_dx, _dy, at, moved) => {
        setGhost(null);
        const { history } = useDesigner.getState();
        const target = moved && history ? dropAt(at.clientX, at.clientY) : null;
        if (!history || !target) return;
        const item = itemFor(history.report, field, target.address, target.x, target.y);
        edit(t('edits.add', { what: field.label }), { do: 'add', band: target.address, items: [item] });
        select([item.id]);
      },
      cancel: () => setGhost(null),
    });
  };
  return (
    <>
      <button
        type="button"
        data-field={`${group}:${field.path.join('.')}`}
        className="flex h-6 w-full touch-none items-center gap-2 rounded px-1.5 text-left select-none hover:bg-pine-soft"
        onPointerDown={press}
        onKeyDown={(event) => {
          if (event.key !== 'Enter') return;
          event.preventDefault();
          place();
        }}
      >
        <span aria-hidden className="w-[18px] text-center font-mono text-[10px] font-semibold text-ink-3">
          {TYPE_MARKS[field.type]}
        </span>
        <span className="truncate">{field.label}</span>
      </button>
      {ghost && (
        <div
          className="pointer-events-none fixed z-50 rounded bg-pine px-2 py-0.5 text-white"
          style={{ left: ghost.x + 10, top: ghost.y + 6 }}
        >
          {field.label}
        </div>
      )}
    </>
  );
};
