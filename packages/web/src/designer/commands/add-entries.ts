import {
  type Band,
  type BandAddress,
  DRAWER_BANDS,
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
  type Model,
  newDrawer,
  newGroup,
  newItem,
  nextPlace,
  REPORT_BANDS,
  type Report,
  type ReportBand,
  roomOf,
  shownFields,
  startSize,
} from '@gaveta/core/internal';
import type { TFunction } from 'i18next';
import { Group, Hash, type LucideIcon, PanelTop, Rows3 } from 'lucide-react';
import type { ModelWithOrigin, StoredRecipe } from '../../api/client.ts';
import type { NamesWithHelp } from '../../i18n/keys.ts';
import type { BoardPoint } from '../design/drop.ts';
import { drawerBandLabel, drawerLabel } from '../design/words.ts';
import { canGroup, drawerFields } from '../drawer/sentence.ts';
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

const itemEntries = ({ t, report, address, point }: AddAt): AddEntry[] => {
  const target = point?.address ?? (address && findBand(report, address) ? address : firstBand(report));
  const band = target && findBand(report, target);
  if (!target || !band) return [];
  const room = roomOf(report.page);
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
      entry(own, newItem(report, kind, at(kind), words ? t(`add.${words}`) : '')),
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

const firstBand = (report: Report): BandAddress | null =>
  report.body?.detail
    ? { drawer: report.body.id, band: 'detail' }
    : report.header
      ? { drawer: null, band: 'header' }
      : null;

const HEIGHTS: Partial<Record<DrawerBand, number>> = { header: 7, footer: 7, detailFooter: 7, others: 6, empty: 7 };

const drawerBandEntries = ({ t, report, address }: AddAt): AddEntry[] => {
  const drawer = address?.drawer ? findDrawer(report, address.drawer)?.drawer : report.body;
  if (!drawer) return [];
  const name = drawerLabel(drawer);
  const entry = (at: BandAddress & { drawer: string }, as: Band): AddEntry => ({
    id: `band-${at.group ?? ''}-${at.band}`,
    icon: PanelTop,
    section: 'bands',
    title: t('add.drawerBand', { drawer: name, band: drawerBandLabel(t, at) }),
    sentence: t(`add.help_${at.band}`, { name: (at.group ? at.group : name).toLowerCase() }),
    edit: { do: 'addBand', band: at, as },
    select: { band: at },
  });
  const own = DRAWER_BANDS.filter((band) => !drawer[band]).map((band) =>
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
  const drawer = address?.drawer ? findDrawer(report, address.drawer)?.drawer : report.body;
  const entity = drawer && entities.get(drawer.id);
  if (!drawer || !entity) return [];
  return shownFields(drawerFields(entity, model))
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

/** Rows that a report without any can begin with: tables, its own queries, shared recipes. */
export const firstDrawerEntries = ({
  t,
  report,
  model,
  models,
  recipes,
}: Omit<AddAt, 'entities' | 'address' | 'point'>): AddEntry[] => {
  const sources = model ? [model] : models;
  const tables = sources.flatMap((source) =>
    source.entities
      .filter((e) => !e.arguments)
      .map((entity): AddEntry => {
        const made = newDrawer(report, { entity: entity.name }, entity.name);
        return {
          id: `rows-${source.name}-${entity.name}`,
          icon: Rows3,
          section: 'drawers',
          title: t('add.rowsOf', { rows: entity.plural }),
          sentence: t('add.rowsOfHelp', { model: source.label }),
          edit: {
            do: 'all',
            edits: [
              ...(model ? [] : [{ do: 'report' as const, settings: { model: source.name } }]),
              { do: 'addDrawer', parent: null, at: 0, drawer: made },
            ],
          },
          select: { drawer: made.id },
        };
      }),
  );
  const shared = recipes.map((recipe): AddEntry => {
    const query = sharedQuery(report, recipe);
    const made = newDrawer(report, { entity: query.name }, query.name);
    return {
      id: `rows-recipe-${recipe.id}`,
      icon: Rows3,
      section: 'drawers',
      title: t('add.rowsOf', { rows: recipe.name }),
      sentence: t('add.recipeHelp'),
      edit: { do: 'all', edits: [query.edit, { do: 'addDrawer', parent: null, at: 0, drawer: made }] },
      select: { drawer: made.id },
    };
  });
  return [...tables, ...shared];
};

const drawerEntries = (place: AddAt): AddEntry[] => {
  const { t, report, model, entities, address } = place;
  if (!report.body) return firstDrawerEntries(place);
  const drawer: Drawer | undefined = address?.drawer ? findDrawer(report, address.drawer)?.drawer : report.body;
  const entity = drawer && entities.get(drawer.id);
  if (!drawer || !entity || !model) return [];
  return [...entity.relations]
    .sort((a, b) => (a.kind === b.kind ? 0 : a.kind === 'many' ? -1 : 1))
    .flatMap((relation): AddEntry[] => {
      const made = innerDrawer(report, model, drawer.id, relation.name, entity.name);
      const target = findEntity(model, relation.to);
      if (!made || !target) return [];
      return [
        {
          id: `drawer-${relation.name}`,
          icon: Rows3,
          section: 'drawers',
          title: t('add.inside', {
            rows: relation.kind === 'many' ? target.plural : target.label,
            outer: drawerLabel(drawer).toLowerCase(),
          }),
          sentence: t('add.insideHelp', { relation: relation.label, outer: entity.label.toLowerCase() }),
          edit: made.edit,
          select: { drawer: made.drawer.id },
        },
      ];
    });
};
