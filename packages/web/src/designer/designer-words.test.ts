import {
  applyEdit,
  type BandAddress,
  changesBetween,
  drawerEntities,
  newGroup,
  planReport,
  THEMES,
} from '@gaveta/core/internal';
import i18next from 'i18next';
import { beforeAll, describe, expect, it } from 'vitest';
import { knownThemes } from '../api/use-themes.ts';
import en from '../i18n/en.json';
import { changeWords } from '../revisions/change-words.ts';
import { emptyDraft, guidedFrom, modelOf, offeredFields, rowsChoices } from '../start/choices.ts';
import { matchWords } from '../ui/match.ts';
import { addEntries } from './commands/add-entries.ts';
import { isKey, shownKey } from './commands/keys.ts';
import { blank } from './design/blank-report.ts';
import { fieldGroups, tableGroups } from './design/data-fields.ts';
import { drawerSentence } from './drawer/sentence.ts';
import { context, entities, model, origin, recipe, report } from './office.test-support.ts';

beforeAll(() =>
  i18next.init({
    lng: 'en',
    resources: { en: { translation: en } },
    showSupportNotice: false,
    interpolation: { escapeValue: false },
  }),
);

describe('the sentence of a drawer', () => {
  it('says its rows, order, filter, groups and how many', () => {
    const stays = report.body[0]!.drawers![0]!;
    expect(drawerSentence(i18next.t, report, stays, report.body[0]!, entities.get('stays')!, model)).toBe(
      'Stays of each hut, the first 5, newest arrival first, only Status is Paid, grouped by month of arrival',
    );
    expect(drawerSentence(i18next.t, report, report.body[0]!, null, entities.get('huts')!, model)).toBe('Huts');
  });
});

describe('what can be placed', () => {
  const groups = fieldGroups(report, model, entities, {
    parameters: 'Parameters',
    page: 'Page',
    calculated: '… (group)',
    ofRow: (name) => `of the ${name}`,
    all: (name) => `inside ${name}`,
    pageValue: (name) => name,
  });
  const of = (id: string) => groups.find((g) => g.id === id);

  it('lists drawers innermost first, and no hidden field', () => {
    expect(groups.map((g) => g.id).slice(0, 1)).toEqual(['stays']);
    expect(of('huts')!.fields.map((f) => f.path.join('.'))).toEqual(['id', 'name']);
    expect(of('stays')!.fields.at(-1)!.path).toEqual(['by_arrival']);
  });

  it('offers rows that a drawer inside could hold, but not those that one holds already', () => {
    expect(of('huts.flights')!.fields[0]).toMatchObject({ relation: 'flights', path: ['id'] });
    expect(of('huts.stays')).toBeUndefined();
    expect(of('stays.home')!.fields[0]!.path).toEqual(['home', 'id']);
    expect(of('parameters')!.fields[0]!.path).toEqual(['season']);
  });

  it('is every table as long as there are no rows', () => {
    const tables = tableGroups([model], undefined, (name) => name);
    expect(tables.map((g) => [g.label, g.note])).toEqual([
      ['Huts', 'Office'],
      ['Stays', 'Office'],
      ['Flights', 'Office'],
    ]);
    expect(tables[1]!.fields[0]).toMatchObject({ drawer: null, table: { model: 'office', entity: 'stay' } });
    expect(tableGroups([model], 'other', (name) => name)).toEqual([]);
  });
});

describe('what can be added', () => {
  const entries = (address: BandAddress | null, base = report) =>
    addEntries({
      t: i18next.t,
      report: base,
      model,
      models: [{ ...model, origin }],
      recipes: [recipe],
      themes: THEMES,
      entities: drawerEntities(base, model),
      address,
      point: null,
    });

  it('does what it says, and leaves a report that runs', () => {
    for (const address of [null, { drawer: 'huts', band: 'detail' }, { drawer: 'stays', band: 'detail' }] as const) {
      for (const entry of entries(address)) {
        const after = applyEdit(report, entry.edit);
        expect(after, entry.id).not.toBe(report);
        const codes = planReport(after, { ...context, recipe: () => recipe }).problems.map((p) => p.code);
        const lacks: Record<string, string[]> = {
          subreport: ['unknown-subreport'],
          crosstab: ['crosstab-without-cells'],
          chart: ['chart-without-measures'],
          gauge: ['gauge-without-value'],
          sparkline: ['chart-without-measures'],
          map: ['map-without-places'],
          contents: ['contents-of-nothing'],
        };
        expect(codes, entry.id).toEqual(lacks[entry.id] ?? []);
      }
    }
  });

  it('offers bands that are missing and rows that are related, where the selection is', () => {
    const titles = entries({ drawer: 'huts', band: 'detail' }).map((e) => e.title);
    expect(titles).toContain('Hut footer');
    expect(titles).not.toContain('Hut detail');
    expect(titles).toContain('Flights inside hut');
    expect(titles).toContain('Flights inside hut, side by side');
    expect(titles).toContain('Group by Name');
    expect(titles).not.toContain('Report header');
  });

  it('offers rows that hang on no others, after the set at the place or side by side with it', () => {
    const find = (title: string) => entries({ drawer: 'stays', band: 'detail' }).find((e) => e.title === title)!;
    const after = (title: string) => applyEdit(report, find(title).edit).body.map((d) => [d.name, d.beside?.x]);
    expect(after('Flights, another set of rows below')).toEqual([
      ['hut', undefined],
      ['flight', undefined],
    ]);
    expect(after('Flights, side by side with huts')).toEqual([
      ['hut', 0],
      ['flight', 93],
    ]);
  });

  it('starts with rows when there are none', () => {
    const bare = applyEdit(report, { do: 'removeDrawer', drawer: 'huts' });
    const drawers = entries(null, bare).filter((e) => e.section === 'drawers');
    expect(drawers.map((e) => e.title)).toEqual(['Huts', 'Stays', 'Flights', 'Paid stays']);
    for (const { edit } of drawers)
      expect(planReport(applyEdit(bare, edit), { ...context, recipe: () => recipe }).problems).toEqual([]);
  });

  it('groups dates by month under a heading, then by shorter stretches, with names of their own', () => {
    const stays = report.body[0]!.drawers![0]!;
    const arrival = entities.get('stays')!.fields[2]!;
    const after = applyEdit(report, newGroup(report, stays, arrival));
    expect(after.body[0]!.drawers![0]!.groups!.map((g) => [g.name, g.per])).toEqual([
      ['by_arrival', 'month'],
      ['by_arrival2', 'week'],
    ]);
    expect(planReport(after, context).problems).toEqual([]);
  });
});

describe('the guided start', () => {
  it('offers tables and recipes, and makes a report of what is chosen', () => {
    const words = { page: 'Page', of: 'of', total: 'Total' };
    const models = [{ ...model, origin }];
    const themes = knownThemes([]);
    const choices = rowsChoices(models, [recipe], 'recipe');
    expect(choices.map((c) => c.label)).toEqual(['Huts', 'Stays', 'Flights', 'Paid stays']);
    for (const rows of choices) {
      const found = modelOf(rows, models, [recipe], blank('New', words, 'en', 'UTC', themes))!;
      const [own] = offeredFields(found.model, found.entity);
      const made = guidedFrom({ ...emptyDraft(), fields: own!.fields }, found.entity, {
        rows,
        themes,
        words,
        language: 'en',
        timeZone: 'UTC',
      });
      expect(made.name).toBe(rows.label);
      const { problems } = planReport(made, { ...context, recipe: () => recipe });
      expect(problems.map((p) => [rows.id, p.code])).toEqual([]);
    }
  });
});

describe('words', () => {
  it('tell changes between revisions', () => {
    const newer = applyEdit(report, {
      do: 'all',
      edits: [
        { do: 'report', settings: { name: 'Other' } },
        { do: 'drawer', drawer: 'stays', settings: { filter: null } },
      ],
    });
    expect(changesBetween(report, newer).map((c) => changeWords(i18next.t, c, {}))).toEqual([
      'Report: changed name',
      'Drawer Stay: changed filter',
    ]);
  });

  it('are found by every word that is typed, titles before sentences', () => {
    const score = (typed: string) => matchWords('', typed, ['Stays inside Hut', 'a drawer for each hut']);
    expect(score('stays')).toBeGreaterThan(score('inside'));
    expect(score('hut sta')).toBeGreaterThan(score('drawer'));
    expect(score('drawer')).toBeGreaterThan(0);
    expect(score('regions')).toBe(0);
    // What answers alike stays in the order of its list.
    const alike = ['Hut footer', 'First page footer'].map((title, i) =>
      matchWords('', 'footer', [title, '', String(i)]),
    );
    expect(alike[0]).toBeGreaterThan(alike[1]!);
  });

  it('show keys, and know them when they are pressed', () => {
    expect([shownKey('Ctrl+Shift+ArrowUp'), shownKey('Ctrl++'), shownKey('/')]).toEqual([
      'Ctrl Shift ↑',
      'Ctrl +',
      '/',
    ]);
    const press = (key: string, held: object = {}) =>
      ({ key, ctrlKey: false, metaKey: false, altKey: false, shiftKey: false, ...held }) as KeyboardEvent;
    expect(isKey(press('z', { ctrlKey: true }), 'Ctrl+Z')).toBe(true);
    expect(isKey(press('z', { metaKey: true }), 'Ctrl+Z')).toBe(true);
    expect(isKey(press('z', { ctrlKey: true, shiftKey: true }), 'Ctrl+Z')).toBe(false);
    // A sign may need Shift on some keyboards.
    expect(isKey(press('/', { shiftKey: true }), '/')).toBe(true);
    expect(isKey(press('+', { ctrlKey: true }), 'Ctrl++')).toBe(true);
  });
});
