import {
  allBands,
  type BandAddress,
  clipOf,
  columnSets,
  copyBand,
  copyGroup,
  drawerEntities,
  drawersOf,
  dropFields,
  type Edit,
  emptyHistory,
  evenColumns,
  evenOut,
  fitColumns,
  freeBands,
  type History,
  LINE_UPS,
  lineUp,
  lowestItem,
  moveBand,
  type NameMeaning,
  PAPER_CHANGES,
  paperEdit,
  pasteClip,
  periodsFor,
  planReport,
  type Report,
  readDefinition,
  record,
  redo,
  removeColumn,
  renamePart,
  reorderColumn,
  resizeColumn,
  roomOf,
  sameSize,
  THEMES,
  themeEdit,
  turnInto,
  turnsInto,
  undo,
  usedIds,
  withPeriod,
} from '@gaveta/core/internal';
import i18next from 'i18next';
import { beforeAll, expect, it } from 'vitest';
import en from '../i18n/en.json';
import { addEntries } from './commands/add-entries.ts';
import { standings } from './commands/arrange.ts';
import { fieldGroups, tableGroups } from './design/data-fields.ts';
import { drawerActions } from './drawer/drawer-actions.ts';
import { context, model, origin, report } from './office.test-support.ts';

beforeAll(() =>
  i18next.init({
    lng: 'en',
    resources: { en: { translation: en } },
    showSupportNotice: false,
    interpolation: { escapeValue: false },
  }),
);

/** The same numbers for the same seed. */
const dice = (seed: number) => {
  let state = seed;
  const below = (count: number): number => {
    state = (state * 1_103_515_245 + 12_345) % 2_147_483_648;
    return Math.floor((state / 2_147_483_648) * count);
  };
  const one = <T>(list: readonly T[]): T | undefined => list[below(list.length)];
  const some = <T>(list: readonly T[]): T[] => list.filter(() => below(3) === 0);
  return { below, one, some };
};
type Dice = ReturnType<typeof dice>;

const itemsOf = (now: Report) => [...allBands(now)].flatMap((b) => b.band.items);

/** Some band; of a report without any, one that is not there. */
const bandOf = (now: Report, d: Dice): BandAddress =>
  d.one([...allBands(now)])?.address ?? { drawer: null, band: 'header' };

/** Everything that hands, keys and menus of the designer do, each with what it happens to be done to. */
const HANDS: Record<string, (now: Report, d: Dice) => Edit | null | undefined> = {
  add: (now, d) => {
    const address = d.one([...allBands(now)])?.address ?? null;
    const around = { t: i18next.t, model, models: [{ ...model, origin }], recipes: [], themes: THEMES, point: null };
    return d.one(addEntries({ ...around, report: now, entities: drawerEntities(now, model), address }))?.edit;
  },
  drop: (now, d) => {
    const entities = drawerEntities(now, model);
    const words = { parameters: '', page: '', calculated: '…', ofRow: String, all: String, pageValue: String };
    const groups = now.body ? fieldGroups(now, model, entities, words) : tableGroups([model], undefined, String);
    const fields = d.some(d.one(groups)?.fields ?? []);
    const own = fields[0]?.drawer;
    const address: BandAddress = own && d.below(2) ? { drawer: own.id, band: 'detail' } : bandOf(now, d);
    const landing = { address, x: d.below(180), y: d.below(10) };
    return dropFields(now, fields, landing, { model, entities })?.edit;
  },
  move: (now, d) => ({
    do: 'move',
    items: d.some(itemsOf(now)).map((i) => i.id),
    dx: d.below(80) - 40,
    dy: d.below(20) - 10,
    ...(d.below(2) ? { band: bandOf(now, d) } : {}),
  }),
  resize: (now, d) => ({
    do: 'resize',
    items: d.some(itemsOf(now)).map((i) => i.id),
    dx: d.below(10) - 5,
    dy: d.below(10) - 5,
    dw: d.below(80) - 40,
    dh: d.below(20) - 10,
  }),
  arrange: (now, d) => {
    const items = standings(
      now,
      d.some(itemsOf(now)).map((i) => i.id),
    );
    if (items.length < 3) return null;
    return d.one([
      () => lineUp(items, d.one(LINE_UPS)!),
      () => evenOut(items, 'across'),
      () => sameSize(items, 'both'),
    ])!();
  },
  columns: (now, d) => {
    const set = d.one([...columnSets(now).values()]);
    const name = d.one(set?.columns ?? [])?.name;
    if (!set || name === undefined) return null;
    return d.one([
      () => evenColumns(set),
      () => fitColumns(set, roomOf(now.page)),
      () => removeColumn(set, name),
      () => reorderColumn(set, name, d.below(set.columns.length)),
      () => resizeColumn(set, name, d.below(60)),
    ])!();
  },
  turn: (now, d) => {
    const id = d.one(itemsOf(now))?.id;
    const kind = id === undefined ? undefined : d.one(turnsInto(now, id, context));
    return id !== undefined && kind ? turnInto(now, id, kind) : null;
  },
  remove: (now, d) => ({ do: 'remove', items: d.some(d.some(itemsOf(now))).map((i) => i.id) }),
  paste: (now, d) => {
    const clip = clipOf(
      now,
      d.some(itemsOf(now)).map((i) => i.id),
    );
    return clip && pasteClip(now, clip, bandOf(now, d)).edit;
  },
  band: (now, d) => {
    const from = d.one([...allBands(now)])?.address;
    const to = d.one(freeBands(now));
    if (!from || !to) return null;
    return d.one([
      () => moveBand(now, from, to),
      () => copyBand(now, from, to),
      (): Edit => ({ do: 'removeBand', band: from }),
      (): Edit => ({ do: 'band', band: from, settings: { height: d.below(40) } }),
    ])!();
  },
  drawer: (now, d) => {
    const found = d.one([...drawersOf(now)])?.drawer;
    return found && d.one(drawerActions(now, found, model, context))?.edit();
  },
  group: (now, d) => {
    const found = d.one([...drawersOf(now)])?.drawer;
    const group = d.one(found?.groups ?? []);
    if (!found || !group) return null;
    if (d.below(2)) return copyGroup(now, found, group);
    const groups = found.groups!.map((g) => (g === group ? withPeriod(g, d.one(periodsFor('date'))!) : g));
    return { do: 'drawer', drawer: found.id, settings: { groups } };
  },
  rename: (now, d) => {
    const parts = [...drawersOf(now)].flatMap(({ drawer }): NameMeaning[] => [
      { kind: 'drawer', drawer: drawer.id },
      ...(drawer.groups ?? []).map((g): NameMeaning => ({ kind: 'group', drawer: drawer.id, name: g.name })),
    ]);
    const part = d.one([...parts, ...now.parameters.map((p): NameMeaning => ({ kind: 'parameter', name: p.name }))]);
    return part && { do: 'whole', report: renamePart(now, part, `named_${d.below(1_000_000)}`, context) };
  },
  page: (now, d) => {
    const orientation = d.one(['portrait', 'landscape'] as const)!;
    return paperEdit(now, { ...now.page, paper: d.one(['A4', 'A5', 'Letter'])!, orientation }, d.one(PAPER_CHANGES)!);
  },
  theme: (now, d) => themeEdit(now, d.one(THEMES)!),
};

const whole = (history: History, way: (h: History) => History): History => {
  const next = way(history);
  return next === history ? history : whole(next, way);
};

it('whatever hands do, the definition stays whole, and all of it can be undone and redone', () => {
  const done = new Map<string, number>();
  for (let seed = 1; seed <= 26; seed++) {
    const d = dice(seed * 7919);
    let history = emptyHistory(report);
    for (let step = 0; step < 40; step++) {
      // There must be something to work on first.
      const name = step < 12 ? d.one(['add', 'drop'])! : d.one(Object.keys(HANDS))!;
      const hand = HANDS[name]!;
      const now = history.report;
      const edit = hand(now, d);
      if (!edit) continue;
      const where = `${name}, step ${step} of seed ${seed}`;
      history = record(history, name, edit);
      const after = history.report;
      if (after !== now) done.set(name, (done.get(name) ?? 0) + 1);
      const read = readDefinition(JSON.parse(JSON.stringify(after)));
      expect(read.ok ? [] : read.problems, where).toEqual([]);
      const ids = [...itemsOf(after).map((i) => i.id), ...[...drawersOf(after)].map((at) => at.drawer.id)];
      expect(new Set(ids).size, where).toBe(ids.length);
      expect(usedIds(after).size, where).toBe(ids.length);
      for (const { band } of allBands(after))
        expect(band.height, where).toBeGreaterThanOrEqual(Math.round(lowestItem(band) * 100) / 100);
      expect(() => planReport(after, context), where).not.toThrow();
    }
    const end = JSON.stringify(history.report);
    const back = whole(history, undo);
    expect(back.report).toBe(report);
    expect(JSON.stringify(whole(back, redo).report)).toBe(end);
  }
  // Each of them was done, and often.
  for (const name of Object.keys(HANDS)) expect([name, (done.get(name) ?? 0) > 10]).toEqual([name, true]);
});
