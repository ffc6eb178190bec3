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
  innerDrawer,
  type Model,
  newDrawer,
  newGroup,
  nextPlace,
  REPORT_BANDS,
  type Report,
  type ReportBand,
  roomOf,
  shownFields,
} from '@gaveta/core';
import type { TFunction } from 'i18next';
import type { ModelWithOrigin, StoredRecipe } from '../../api/client.ts';
import type { BoardPoint } from '../board/drop.ts';
import { canGroup, drawerFields } from '../drawer/sentence.ts';
import { sharedQuery } from '../queries/shared-query.ts';
import { drawerBandLabel, drawerLabel } from '../words.ts';

export type AddKind =
  | 'text'
  | 'picture'
  | 'barcode'
  | 'check'
  | 'line'
  | 'frame'
  | 'subreport'
  | 'number'
  | 'band'
  | 'group'
  | 'drawer';

/** Something that can be added where the selection is. */
export interface AddEntry {
  id: string;
  kind: AddKind;
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
  const at = (width: number) => point ?? nextPlace(band, room, width);
  const one = (
    id: string,
    kind: AddKind,
    make: (place: { id: string; x: number; y: number }) => Item,
    width: number,
    typing = false,
  ): AddEntry => {
    const { x, y } = at(width);
    const item = make({ id: freshId(report, id === 'frame' ? 'rectangle' : kind === 'number' ? 'text' : id), x, y });
    return {
      id,
      kind,
      section: 'items',
      title: t(`add.${id}`),
      sentence: t(`add.${id}Help`),
      edit: { do: 'add', band: target, items: [item] },
      select: { items: [item.id] },
      ...(typing ? { typing } : {}),
    };
  };
  const text = (content: Extract<Item, { kind: 'text' }>['content'], role: 'value' | 'note') => (p: object) =>
    ({ kind: 'text', ...p, width: 50, height: 5, content, ...dressed(report, role) }) as Item;
  return [
    one('text', 'text', text([t('add.newText')], 'value'), 50, true),
    one(
      'picture',
      'picture',
      (p) => ({ kind: 'picture', ...p, width: 40, height: 28, fit: 'whole', alternative: '' }),
      40,
    ),
    one(
      'barcode',
      'barcode',
      (p) => ({
        kind: 'barcode',
        ...p,
        width: 50,
        height: 15,
        formula: `"${t('add.barcodeStart')}"`,
        code: 'code-128',
        color: '#000000',
      }),
      50,
    ),
    one(
      'check',
      'check',
      (p) => ({ kind: 'check', ...p, width: 5, height: 5, formula: 'TRUE', sign: 'tick', color: '#1f2a2e' }),
      5,
    ),
    one(
      'line',
      'line',
      (p) => ({ kind: 'line', ...p, x: 0, width: room, height: 0, color: '#1f2a2e', thickness: 0.2, dash: 'solid' }),
      room,
    ),
    one(
      'frame',
      'frame',
      (p) => ({ kind: 'rectangle', ...p, width: 40, height: 12, stroke: '#1f2a2e', thickness: 0.2, radius: 0 }),
      40,
    ),
    one(
      'subreport',
      'subreport',
      (p) => ({ kind: 'subreport', ...p, x: 0, width: room, height: 10, report: '?', links: {} }),
      room,
    ),
    one(
      'pageNumber',
      'number',
      text(
        [`${t('start.page')} `, { formula: 'page.number' }, ` ${t('start.of')} `, { formula: 'page.count' }],
        'note',
      ),
      50,
    ),
    one('runDate', 'number', text([{ formula: 'report.run_at', format: 'd mmm yyyy hh:mm' }], 'note'), 50),
    one('reportName', 'number', text([{ formula: 'report.name' }], 'note'), 50),
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
    kind: 'band',
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
    return {
      id: `band-${band}`,
      kind: 'band',
      section: 'bands',
      title: t(`bands.${band}`),
      sentence: t(`add.help_${band === 'header' || band === 'footer' ? `report_${band}` : band}`),
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
      kind: 'group',
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
          kind: 'drawer',
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
      kind: 'drawer',
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
          kind: 'drawer',
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
