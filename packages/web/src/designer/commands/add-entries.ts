import {
  addAfter,
  addSet,
  type Band,
  type BandAddress,
  type Drawer,
  type DrawerBand,
  dressed,
  type Edit,
  type Entity,
  findBand,
  findDrawer,
  findEntity,
  freshId,
  type Item,
  type ItemKind,
  type ItemOf,
  innerDrawer,
  isBesidePrevious,
  isPageBand,
  type Model,
  newDrawer,
  newGroup,
  newItem,
  nextPlace,
  REPORT_BANDS,
  type Report,
  type ReportBand,
  ROW_BANDS,
  roomIn,
  SET_PAGE_BANDS,
  type SetPlace,
  setOf,
  shownFields,
  startSize,
  type Theme,
} from '@gaveta/core/internal';
import type { TFunction } from 'i18next';
import { Group, Hash, type LucideIcon, PanelTop, Rows3 } from 'lucide-react';
import type { ModelWithOrigin, StoredRecipe } from '../../api/client.ts';
import { fieldsOfRow } from '../../data/fields-of-row.ts';
import type { NamesWithHelp } from '../../i18n/keys.ts';
import type { BoardPoint } from '../design/surfaces.ts';
import { drawerBandLabel, drawerLabel } from '../design/words.ts';
import { canGroup } from '../drawer/sentence.ts';
import { ADDED } from '../items/rooms.ts';
import { sharedQuery } from '../queries/shared-query.ts';

/** Something that can be added where the selection is. */
export interface AddEntry {
  id: string;
  icon: LucideIcon;
  section: 'items' | 'bands' | 'groups' | 'drawers';
  title: string;
  sentence: string;
  edit: Edit;
  /** What is selected afterwards. */
  select: { items: string[] } | { drawer: string } | { band: BandAddress };
  /** Whether its text is edited at once. */
  typing?: boolean;
}

interface AddAt {
  t: TFunction;
  report: Report;
  model: Model | null;
  models: readonly ModelWithOrigin[];
  recipes: readonly StoredRecipe[];
  themes: readonly Theme[];
  entities: ReadonlyMap<string, Entity>;
  /** Where it is added. */
  address: BandAddress | null;
  point: BoardPoint | null;
}

/** Everything that can be added at a place, the likeliest first. */
export const addEntries = (place: AddAt): AddEntry[] => [
  ...itemEntries(place),
  ...drawerBandEntries(place),
  ...reportBandEntries(place),
  ...groupEntries(place),
  ...drawerEntries(place),
];

const itemEntries = ({ t, report, themes, address, point }: AddAt): AddEntry[] => {
  const target = point?.address ?? (address && findBand(report, address) ? address : firstBand(report));
  const band = target && findBand(report, target);
  if (!target || !band) return [];
  const room = roomIn(report, target);
  const entry = (own: Pick<AddEntry, 'icon' | 'typing'> & { id: NamesWithHelp<'add'> }, item: Item): AddEntry => ({
    ...own,
    section: 'items',
    title: t(`add.${own.id}`),
    sentence: t(`add.${own.id}Help`),
    edit: { do: 'add', band: target, items: [item] },
    select: { items: [item.id] },
  });
  const at = (kind: ItemKind) => {
    const { x, y } = point ?? nextPlace(band, room, startSize(kind, room).width);
    return { id: freshId(report, kind), x, y, room };
  };
  const note = (id: NamesWithHelp<'add'>, content: ItemOf<'text'>['content']): AddEntry => {
    const { id: itemId, x, y } = at('text');
    const place = { id: itemId, x, y, width: 50, height: 5 };
    return entry({ id, icon: Hash }, { kind: 'text', ...place, content, ...dressed(report, 'note') });
  };
  return [
    ...ADDED.map(({ kind, words, ...own }) =>
      entry(own, newItem(report, kind, at(kind), words ? t(`add.${words}`) : '', themes)),
    ),
    note('pageNumber', [
      `${t('start.page')} `,
      { formula: 'page.number' },
      ` ${t('start.of')} `,
      { formula: 'page.count' },
    ]),
    note('runDate', [{ formula: 'report.run_at', format: 'd mmm yyyy hh:mm' }]),
    note('reportName', [{ formula: 'report.name' }]),
  ];
};

const firstBand = (report: Report): BandAddress | null => {
  const [first] = report.body;
  if (first?.detail) return { drawer: first.id, band: 'detail' };
  return report.header ? { drawer: null, band: 'header' } : null;
};

/** The drawer of the place, else the first one. */
const drawerAt = (report: Report, address: BandAddress | null): Drawer | undefined =>
  address?.drawer ? findDrawer(report, address.drawer)?.drawer : report.body[0];

const HEIGHTS: Partial<Record<DrawerBand, number>> = { header: 7, footer: 7, detailFooter: 7, others: 6, empty: 7 };

const drawerBandEntries = ({ t, report, address }: AddAt): AddEntry[] => {
  const drawer = drawerAt(report, address);
  if (!drawer) return [];
  const name = drawerLabel(drawer);
  const entry = (at: BandAddress & { drawer: string }, as: Band): AddEntry => ({
    id: `band-${at.group ?? ''}-${at.band}`,
    icon: PanelTop,
    section: 'bands',
    title: t('add.drawerBand', { drawer: name, band: drawerBandLabel(t, at) }),
    sentence: t(isPageBand(at.band) ? 'add.helpOwnPages' : `add.help_${at.band}`, {
      name: (at.group ? at.group : name).toLowerCase(),
    }),
    edit: { do: 'addBand', band: at, as },
    select: { band: at },
  });
  // Pages begin with a set of rows, unless it stands beside the one before it.
  const place = report.body.indexOf(drawer);
  const beginsPages = place >= 0 && !isBesidePrevious(report, drawer);
  const names = beginsPages ? [...ROW_BANDS, ...SET_PAGE_BANDS] : ROW_BANDS;
  const own = names
    .filter((band) => !drawer[band])
    .map((band) =>
      entry(
        { drawer: drawer.id, band },
        { height: HEIGHTS[band] ?? 8, items: [], ...(band === 'header' ? { everyPage: true } : {}) },
      ),
    );
  const ofGroups = (drawer.groups ?? []).flatMap((group) =>
    (['header', 'footer'] as const)
      .filter((band) => !group[band])
      .map((band) => entry({ drawer: drawer.id, band, group: group.name }, { height: 7, items: [] })),
  );
  return [...own, ...ofGroups];
};

const reportBandEntries = ({ t, report }: AddAt): AddEntry[] =>
  REPORT_BANDS.filter((band: ReportBand) => !report[band]).map((band) => {
    const at: BandAddress = { drawer: null, band };
    const help = band === 'header' || band === 'footer' ? (`report_${band}` as const) : band;
    return {
      id: `band-${band}`,
      icon: PanelTop,
      section: 'bands',
      title: t(`bands.${band}`),
      sentence: t(`add.help_${help}`),
      edit: {
        do: 'addBand',
        band: at,
        as: { height: band === 'pageBackground' || band === 'pageOverlay' ? 40 : 10, items: [] },
      },
      select: { band: at },
    };
  });

const groupEntries = ({ t, report, model, entities, address }: AddAt): AddEntry[] => {
  const drawer = drawerAt(report, address);
  const entity = drawer && entities.get(drawer.id);
  if (!drawer || !entity) return [];
  return shownFields(fieldsOfRow(entity, model))
    .filter((f) => canGroup(drawer, f))
    .map((field) => ({
      id: `group-${field.name}`,
      icon: Group,
      section: 'groups',
      title: t('add.groupBy', { field: field.label }),
      sentence: t('add.groupHelp', { rows: entity.plural.toLowerCase() }),
      edit: newGroup(report, drawer, field),
      select: { drawer: drawer.id },
    }));
};

type RowsPlace = Pick<AddAt, 't' | 'report' | 'model' | 'models' | 'recipes'>;

/** Rows that a report without any can begin with: tables, its own queries, shared recipes. */
export const firstDrawerEntries = (place: RowsPlace): AddEntry[] =>
  rowsEntries(place, { id: 'rows', title: (rows) => place.t('add.rowsOf', { rows }), after: -1, place: 'below' });

/** How rows are offered that hang on no others. */
interface SetOffer {
  id: string;
  title: (rows: string) => string;
  /** 0-based place of the set that they come after; -1 when there is none. */
  after: number;
  place: SetPlace;
}

const rowsEntries = ({ t, report, model, models, recipes }: RowsPlace, offer: SetOffer): AddEntry[] => {
  const add = (drawer: Drawer): Edit => addSet(report, drawer, offer.after, offer.place);
  const sources = model ? [model] : models;
  const tables = sources.flatMap((source) =>
    source.entities
      .filter((e) => !e.arguments)
      .map((entity): AddEntry => {
        const made = newDrawer(report, { entity: entity.name }, entity.name);
        return {
          id: `${offer.id}-${source.name}-${entity.name}`,
          icon: Rows3,
          section: 'drawers',
          title: offer.title(entity.plural),
          sentence: t(offer.after < 0 ? 'add.rowsOfHelp' : 'add.setHelp', { model: source.label }),
          edit: {
            do: 'all',
            edits: [...(model ? [] : [{ do: 'report' as const, settings: { model: source.name } }]), add(made)],
          },
          select: { drawer: made.id },
        };
      }),
  );
  const shared = recipes.map((recipe): AddEntry => {
    const query = sharedQuery(report, recipe);
    const made = newDrawer(report, { entity: query.name }, query.name);
    return {
      id: `${offer.id}-recipe-${recipe.id}`,
      icon: Rows3,
      section: 'drawers',
      title: offer.title(recipe.name),
      sentence: t('add.recipeHelp'),
      edit: { do: 'all', edits: [query.edit, add(made)] },
      select: { drawer: made.id },
    };
  });
  return [...tables, ...shared];
};

const drawerEntries = (place: AddAt): AddEntry[] =>
  place.report.body.length === 0 ? firstDrawerEntries(place) : [...innerDrawerEntries(place), ...setEntries(place)];

/** What a drawer's rows are called, inside a sentence. */
const rowsLabel = (entities: AddAt['entities'], drawer: Drawer): string =>
  (entities.get(drawer.id)?.plural ?? drawerLabel(drawer)).toLowerCase();

/** Another set of rows, below the one at the place or beside it. */
const setEntries = (place: AddAt): AddEntry[] => {
  const { t, report, entities, address } = place;
  const after = address?.drawer ? setOf(report, address.drawer) : report.body.length - 1;
  const other = rowsLabel(entities, report.body[after]!);
  return (['below', 'beside'] as const).flatMap((where) =>
    rowsEntries(place, {
      id: `set-${where}`,
      title: (rows) => t(`add.set_${where}`, { rows, other }),
      after,
      place: where,
    }),
  );
};

const innerDrawerEntries = ({ t, report, model, entities, address }: AddAt): AddEntry[] => {
  const drawer = drawerAt(report, address);
  const entity = drawer && entities.get(drawer.id);
  if (!drawer || !entity || !model) return [];
  return [...entity.relations]
    .sort((a, b) => (a.kind === b.kind ? 0 : a.kind === 'many' ? -1 : 1))
    .flatMap((relation): AddEntry[] => {
      const made = innerDrawer(report, model, drawer.id, relation.name, entity.name);
      const target = findEntity(model, relation.to);
      if (!made || !target) return [];
      const rows = relation.kind === 'many' ? target.plural : target.label;
      const outer = drawerLabel(drawer).toLowerCase();
      const entry = { icon: Rows3, section: 'drawers', select: { drawer: made.drawer.id } } as const;
      const below: AddEntry = {
        ...entry,
        id: `drawer-${relation.name}`,
        title: t('add.inside', { rows, outer }),
        sentence: t('add.insideHelp', { relation: relation.label, outer: entity.label.toLowerCase() }),
        edit: made.edit,
      };
      const last = drawer.drawers?.at(-1);
      if (!last || relation.kind === 'one') return [below];
      const beside: AddEntry = {
        ...entry,
        id: `drawer-beside-${relation.name}`,
        title: t('add.insideBeside', { rows, outer }),
        sentence: t('add.insideBesideHelp', { relation: relation.label, other: rowsLabel(entities, last) }),
        edit: addAfter(report, drawer, made.drawer, drawer.drawers!.length - 1, 'beside'),
      };
      return [below, beside];
    });
};
