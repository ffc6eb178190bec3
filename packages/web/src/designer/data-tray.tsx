import {
  columnLanding,
  dropFields,
  type Edit,
  findBand,
  intoItem,
  isGrouping,
  type Landing,
  nextPlace,
  ownRowsOf,
  type Placeable,
  type PlacedKind,
  type Report,
  roomIn,
} from '@gaveta/core/internal';
import { ChevronDown, ChevronRight, MoreHorizontal } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { type PointerEvent, useMemo, useState } from 'react';
import { createPortal } from 'react-dom';
import { useTranslation } from '../i18n/use-translation.ts';
import { DrawerMark, inputLook } from '../ui/controls.tsx';
import { useDesign, useLiveView } from './design/context.ts';
import { fieldGroups, rowsGroup, tableGroups } from './design/data-fields.ts';
import { followPointer } from './design/drag.ts';
import { endGesture, type GestureState, useGesture } from './design/gesture.ts';
import { refusals } from './design/refusal.ts';
import { selectedItems, targetBand, useDesigner } from './design/state.ts';
import { type BoardPoint, dropAt, isOnSurface, type PartOfItem, partAt } from './design/surfaces.ts';

const TYPE_MARKS: Record<Placeable['type'], string> = {
  text: 'Aa',
  number: '12',
  date: '31',
  datetime: '31',
  boolean: '✓',
  picture: '▣',
};

/** What a field can be made into, besides what fits it by itself. */
const KINDS: readonly PlacedKind[] = [
  'value',
  'caption',
  'first',
  'total',
  'text',
  'formatted',
  'picture',
  'barcode',
  'check',
];

export const DataTray = ({ report }: { report: Report }) => {
  const { t } = useTranslation();
  const { model, models, entities, plan } = useDesign();
  const rows = useLiveView((view) => view.rows);
  const [find, setFind] = useState('');
  const [closed, setClosed] = useState<Record<string, boolean>>({});
  const [chosen, setChosen] = useState<readonly string[]>([]);
  const band = useDesigner((s) => s.band);
  const selection = useDesigner((s) => s.selection);
  const [only] = selection.length === 1 ? selectedItems(report, selection) : [];
  const grouping = isGrouping(only) ? only : null;
  const around = band?.drawer ? (entities.get(band.drawer) ?? null) : null;
  const ownRows = grouping && ownRowsOf(grouping, around, model);
  const groups = useMemo(
    () => [
      ...(grouping && ownRows && model ? [rowsGroup(model, ownRows, grouping.rows, t('crosstab.rowsOfItem'))] : []),
      ...(report.body.length > 0 || ownRows
        ? []
        : tableGroups(models, report.model, (name) => t('designer.tableOf', { model: name }))),
      ...fieldGroups(report, model, entities, {
        parameters: t('designer.parameters'),
        page: t('designer.pageValues'),
        calculated: t('designer.groupValue'),
        ofRow: (name) => t('designer.ofRow', { name }),
        all: (name) => t('designer.allOf', { name }),
        pageValue: (name) => t(`pageValue.${name}`),
      }),
    ],
    [report, grouping, ownRows, model, models, entities, t],
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
    wanted !== '' ||
    !(
      closed[id] ??
      (ownRows || !band?.drawer ? (report.body.length === 0 && !ownRows) || groups[0]?.id !== id : id !== band.drawer)
    );
  const all = new Map(groups.flatMap((g) => g.fields.map((f) => [keyOf(g.id, f), f] as const)));
  /** The chosen fields when this one is among them, else it alone. */
  const together = (key: string): Placeable[] =>
    (chosen.includes(key) ? chosen : [key]).map((k) => all.get(k)).filter((f) => f !== undefined);
  const choose = (key: string, event: { shiftKey: boolean; ctrlKey: boolean; metaKey: boolean }): void => {
    if (event.ctrlKey || event.metaKey) {
      setChosen(chosen.includes(key) ? chosen.filter((k) => k !== key) : [...chosen, key]);
      return;
    }
    const last = chosen.at(-1);
    if (!event.shiftKey || last === undefined) {
      setChosen([key]);
      return;
    }
    const order = shown.flatMap((g) => (isOpen(g.id) ? g.fields.map((f) => keyOf(g.id, f)) : []));
    const [from, to] = [order.indexOf(last), order.indexOf(key)].sort((a, b) => a - b);
    setChosen([...new Set([...chosen, ...order.slice(from, to! + 1)])]);
  };
  /** Into an item that groups rows; nothing where it cannot take them. */
  const putInto = (item: string, part: string | null, fields: readonly Placeable[]): void => {
    const { edit, select } = useDesigner.getState();
    const made = intoOf(item, part, fields);
    if (!made) return;
    const what = fields.length > 1 ? t('designer.severalFields', { count: fields.length }) : (fields[0]?.label ?? '');
    edit(t('edits.add', { what }), made);
    select([item]);
    setChosen([]);
  };
  const intoOf = (item: string, part: string | null, fields: readonly Placeable[]): Edit | null => {
    const { history } = useDesigner.getState();
    return history && intoItem(history.report, item, part, fields, { model, entities });
  };
  const put = (fields: readonly Placeable[], point: BoardPoint | null, kind?: PlacedKind): void => {
    // Without a place, fields go into the item that groups rows and is selected.
    if (!point && kind === undefined && grouping) {
      putInto(grouping.id, null, fields);
      return;
    }
    const { history, edit, select, focusOn } = useDesigner.getState();
    const [first] = fields;
    if (!history || !first) return;
    const landing = point ?? (first.table ? ANYWHERE : landingFor(history.report, first));
    const dropped = landing && dropFields(history.report, fields, landing, { model, entities }, kind);
    if (!dropped) return;
    const what = fields.length > 1 ? t('designer.severalFields', { count: fields.length }) : first.label;
    edit(t('edits.add', { what }), dropped.edit);
    if (dropped.drawer !== null) focusOn({ kind: 'drawer', drawer: dropped.drawer });
    else select(dropped.items);
    setChosen([]);
  };
  return (
    <section data-testid="data-tray" aria-label={t('designer.data')} className="flex min-h-0 flex-col">
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
        {shown.map((group) => {
          const count = rows?.[group.id];
          return (
            <div key={group.id}>
              <button
                type="button"
                data-group={group.id}
                aria-expanded={isOpen(group.id)}
                className="mt-0.5 flex h-6 w-full items-center gap-1.5 rounded px-1.5 text-start font-semibold hover:bg-desk/50"
                onClick={() => setClosed({ ...closed, [group.id]: isOpen(group.id) })}
              >
                {isOpen(group.id) ? <ChevronDown size={12} aria-hidden /> : <ChevronRight size={12} aria-hidden />}
                {group.label}
                <span className="ms-auto truncate text-[11px] font-normal text-ink-3">
                  {group.note || (count !== undefined && t('designer.rowCount', { count }))}
                </span>
              </button>
              {isOpen(group.id) &&
                group.fields.map((field) => {
                  const key = keyOf(group.id, field);
                  return (
                    <FieldRow
                      key={key}
                      id={key}
                      field={field}
                      isChosen={chosen.includes(key)}
                      count={chosen.includes(key) ? chosen.length : 1}
                      onChoose={(event) => choose(key, event)}
                      onPlace={(point, kind) => put(together(key), point, kind)}
                      onDropInto={({ item, part }) => putInto(item, part, together(key))}
                      landsAt={(point) => columnLanding(report, together(key), point)?.x ?? null}
                      canGoInto={({ item, part }) => intoOf(item, part, together(key)) !== null}
                      refusals={() =>
                        refusals(report, together(key), { model, entities, plan }, t('crosstab.cannotTake'))
                      }
                    />
                  );
                })}
            </div>
          );
        })}
        <p className="px-2 pt-2 text-[12px] text-ink-3">
          {t(grouping ? 'crosstab.dragHint' : report.body.length > 0 ? 'designer.dragHint' : 'designer.dragTables')}
        </p>
      </div>
    </section>
  );
};

/** Rows that come with a drawer of their own need no place. */
const ANYWHERE: BoardPoint = { address: { drawer: null, band: 'header' }, x: 0, y: 0 };

const keyOf = (group: string, field: Placeable): string => `${group}:${field.path.join('.')}`;

/** Where a field goes that is placed without pointing. */
const landingFor = (report: Report, field: Placeable): Landing | null => {
  const own = field.drawer
    ? ({ drawer: field.drawer.id, band: 'detail' } as const)
    : ({ drawer: null, band: 'header' } as const);
  const address = targetBand(report, own);
  const band = findBand(report, address);
  return band && { address, ...nextPlace(band, roomIn(report, address), 30), isAnywhere: true };
};

const isOverTray = (x: number, y: number): boolean =>
  document.elementFromPoint(x, y)?.closest('[data-testid="data-tray"]') != null;

/** What hangs at the pointer. */
interface Ghost {
  x: number;
  y: number;
  over: PartOfItem | null;
  /** Why it cannot be let go there; null where it can. */
  refusal: string | null;
}

interface RowProps {
  id: string;
  field: Placeable;
  isChosen: boolean;
  /** How many fields go with it. */
  count: number;
  onChoose: (event: { shiftKey: boolean; ctrlKey: boolean; metaKey: boolean }) => void;
  /** Without a point: where there is room. */
  onPlace: (point: BoardPoint | null, kind?: PlacedKind) => void;
  /** Into a part of an item. */
  onDropInto: (part: PartOfItem) => void;
  /** Where in its band it would become a column, in millimetres from the left; null where it would not. */
  landsAt: (point: BoardPoint) => number | null;
  canGoInto: (part: PartOfItem) => boolean;
  /** Why it cannot be let go at a place of the board; null where it can. */
  refusals: () => (point: BoardPoint) => string | null;
}

const FieldRow = ({
  id,
  field,
  isChosen,
  count,
  onChoose,
  onPlace,
  onDropInto,
  landsAt,
  canGoInto,
  refusals: look,
}: RowProps) => {
  const { t } = useTranslation();
  const [ghost, setGhost] = useState<Ghost | null>(null);
  const press = (event: PointerEvent): void => {
    if (event.button !== 0) return;
    const stop = (): void => {
      setGhost(null);
      endGesture();
    };
    const refusalAt = look();
    /** Why it cannot be let go where the pointer is; null where it can, and over where it came from. */
    const refused = (at: globalThis.PointerEvent, over: PartOfItem | null): string | null => {
      if (over) return canGoInto(over) ? null : t('crosstab.cannotTake');
      const point = dropAt(at.clientX, at.clientY);
      if (point) return refusalAt(point);
      if (field.table && isOnSurface(at.clientX, at.clientY)) return null;
      return isOverTray(at.clientX, at.clientY) ? null : t('designer.dropOnBand');
    };
    /** A line where it would become a column. */
    const columnGuide = (at: globalThis.PointerEvent | null): Pick<GestureState, 'surface' | 'guides'> => {
      const point = at && dropAt(at.clientX, at.clientY);
      const x = point && landsAt(point);
      if (!point?.on || x === null) return { surface: null, guides: [] };
      const { surface, left, top, height } = point.on;
      return { surface, guides: [{ along: 'y', at: left + x, from: top, to: top + height, kind: 'edge' }] };
    };
    followPointer(event, {
      move: (_dx, _dy, at) => {
        const over = partAt(at.clientX, at.clientY);
        const refusal = refused(at, over);
        setGhost({ x: at.clientX, y: at.clientY, over, refusal });
        useGesture.setState({ over: refusal === null ? over : null, ...columnGuide(over ? null : at) });
      },
      end: (_dx, _dy, at, moved) => {
        stop();
        if (!moved) return;
        const part = partAt(at.clientX, at.clientY);
        if (refused(at, part) !== null) return;
        if (part) {
          onDropInto(part);
          return;
        }
        const point = dropAt(at.clientX, at.clientY);
        if (point || (field.table && isOnSurface(at.clientX, at.clientY))) onPlace(point);
      },
      cancel: stop,
    });
  };
  const kinds = KINDS.filter(
    (kind) =>
      (kind !== 'picture' || field.type === 'picture') &&
      (kind !== 'barcode' || field.type === 'text' || field.type === 'number') &&
      (kind !== 'check' || field.type === 'boolean') &&
      (kind !== 'formatted' || field.type === 'text'),
  );
  return (
    <div className={`group/field flex items-center rounded ${isChosen ? 'bg-pine-soft' : 'hover:bg-pine-soft/60'}`}>
      <button
        type="button"
        data-field={id}
        aria-pressed={isChosen}
        className="flex h-6 min-w-0 flex-1 touch-none items-center gap-2 px-1.5 text-start select-none"
        onPointerDown={press}
        onClick={onChoose}
        onKeyDown={(event) => {
          if (event.key !== 'Enter') return;
          event.preventDefault();
          onPlace(null);
        }}
      >
        <span aria-hidden className="w-[18px] flex-none text-center font-mono text-[10px] font-semibold text-ink-3">
          {TYPE_MARKS[field.type]}
        </span>
        <span className="truncate">{field.label}</span>
      </button>
      {field.relation === undefined && !field.table && (
        <DropdownMenu.Root>
          <DropdownMenu.Trigger asChild>
            <button
              type="button"
              aria-label={t('designer.placeAs', { name: field.label })}
              title={t('designer.placeAs', { name: field.label })}
              className="me-0.5 grid size-5 flex-none place-items-center rounded text-ink-3 opacity-0 group-hover/field:opacity-100 hover:bg-paper focus-visible:opacity-100"
            >
              <MoreHorizontal size={13} aria-hidden />
            </button>
          </DropdownMenu.Trigger>
          <DropdownMenu.Portal>
            <DropdownMenu.Content className="menu z-60" align="start">
              {kinds.map((kind) => (
                <DropdownMenu.Item key={kind} className="menu-item" onSelect={() => onPlace(null, kind)}>
                  {t(`designer.as_${kind}`)}
                </DropdownMenu.Item>
              ))}
            </DropdownMenu.Content>
          </DropdownMenu.Portal>
        </DropdownMenu.Root>
      )}
      {ghost &&
        createPortal(
          <div
            role="status"
            className={`pointer-events-none fixed z-60 max-w-72 rounded px-2 py-0.5 text-on-accent ${ghost.refusal === null ? 'bg-pine' : 'bg-rust'}`}
            style={{ left: ghost.x + 10, top: ghost.y + 6 }}
          >
            {ghost.over && <span className="opacity-80">{ghost.over.words} </span>}
            {count > 1 ? t('designer.severalFields', { count }) : field.label}
            {ghost.refusal !== null && ` – ${ghost.refusal}`}
          </div>,
          document.body,
        )}
    </div>
  );
};
