import { describe, expect, it } from 'vitest';
import { readDefinition } from '../definition/read.ts';
import { allBands, findItem } from '../definition/walk.ts';
import { band, definition, field, hutModel, plan } from '../layout/huts.test-support.ts';
import { themeEdit } from './apply-theme.ts';
import { changesBetween } from './changes.ts';
import { clipOf, pasteClip, pasteLook, readClip } from './clipboard.ts';
import { applyEdit } from './edit.ts';
import { type GuidedChoices, guidedReport } from './guided.ts';
import { ownThemes } from './own-themes.ts';
import { TEMPLATES, templateReport } from './templates.ts';
import { FURNITURE, roleOf, THEMES } from './themes.ts';

const report = definition({
  styles: { Loud: { bold: true } },
  header: band(10, field('title', 'report.name', { look: { size: 18 } })),
  body: [
    {
      id: 'huts',
      name: 'hut',
      rows: { entity: 'hut' },
      header: band(6, field('cap', '"Name"')),
      detail: band(8, field('name', 'name', { style: 'Loud', look: { color: '#112233', align: 'right' } })),
      footer: band(6, field('sum', 'COUNT(hut)')),
    },
  ],
});
const detail = { drawer: 'huts', band: 'detail' } as const;

describe('the clipboard', () => {
  it('carries items and their styles to another report', () => {
    const text = JSON.stringify(clipOf(report, ['name', 'gone']));
    const clip = readClip(text)!;
    expect(Object.keys(clip.styles)).toEqual(['Loud']);
    const other = definition({ body: [{ ...report.body[0]!, detail: band(8) }] });
    const { edit, ids } = pasteClip(other, clip, detail);
    const pasted = applyEdit(other, edit);
    expect(findItem(pasted, ids[0]!)!.item).toMatchObject({ formula: 'name', style: 'Loud', x: 2 });
    expect(pasted.styles.Loud).toEqual({ bold: true });
  });

  it('passes over text that is no copy of items', () => {
    for (const text of ['', 'Lago', '{"gavetaItems":1,"items":[{"kind":"script"}]}', '{"gavetaItems":1', 'null'])
      expect(readClip(text)).toBeNull();
    expect(clipOf(report, ['gone'])).toBeNull();
  });

  it('gives the look alone', () => {
    const name = findItem(report, 'name')!.item;
    const painted = applyEdit(report, pasteLook(report, name, ['sum', 'name']));
    expect(findItem(painted, 'sum')!.item).toMatchObject({
      formula: 'COUNT(hut)',
      style: 'Loud',
      look: { color: '#112233' },
    });
  });
});

describe('themes', () => {
  it('are at least five, each valid, and change fonts and colours but no content, place or alignment', () => {
    expect(THEMES.length).toBeGreaterThanOrEqual(5);
    for (const theme of THEMES) {
      const dressed = applyEdit(report, themeEdit(report, theme));
      expect(readDefinition(JSON.parse(JSON.stringify(dressed))).ok).toBe(true);
      expect(plan(dressed).problems).toEqual([]);
      expect(dressed.styles.Loud).toEqual({ bold: true });
      const strip = (r: typeof report) =>
        [...allBands(r)].flatMap(({ band: b }) =>
          b.items.map((i) => [i.id, i.x, i.y, i.width, 'formula' in i && i.formula]),
        );
      expect(strip(dressed)).toEqual(strip(report));
      expect(findItem(dressed, 'name')!.item).toMatchObject({ style: 'Value', look: { align: 'right' } });
    }
  });

  it('know what a text is for', () => {
    const roles = [...allBands(report)].map(({ band: b, address }) => roleOf(b.items[0]!, address));
    expect(roles).toEqual(['title', 'caption', 'value', 'total']);
  });

  it('put one another on without leaving anything behind', () => {
    const direct = applyEdit(report, themeEdit(report, THEMES[1]!));
    const over = applyEdit(report, themeEdit(report, THEMES[3]!));
    expect(applyEdit(over, themeEdit(over, THEMES[1]!))).toEqual(direct);
  });
});

describe('the guided start', () => {
  const entity = hutModel.entities.find((e) => e.name === 'stay')!;
  const fields = ['guest', 'nights'].map((name) => ({
    path: [name],
    field: entity.fields.find((f) => f.name === name)!,
  }));
  const choices: GuidedChoices = {
    title: 'Stays',
    source: { model: hutModel.name },
    entity: 'stay',
    fields,
    groups: [{ path: ['guest'], label: 'Guest', per: 'value' }],
    totals: { nights: 'SUM', guest: 'COUNTDISTINCT' },
    layout: 'columns',
    page: report.page,
    theme: THEMES[1]!,
    language: 'en',
    timeZone: 'UTC',
    words: { page: 'Page', of: 'of', total: 'Total' },
  };

  it('makes a report that plans without a problem, in columns and as a form', () => {
    for (const layout of ['columns', 'form'] as const) {
      const made = guidedReport({ ...choices, layout }, entity);
      expect(readDefinition(JSON.parse(JSON.stringify(made))).ok).toBe(true);
      expect(plan(made).problems).toEqual([]);
    }
    const made = guidedReport(choices, entity);
    expect(made.body[0]!.groups![0]).toMatchObject({ name: 'by_guest', by: 'guest' });
    const sums = made.body[0]!.groups![0]!.footer!.items.flatMap((i) => (i.kind === 'field' ? [i.formula] : []));
    expect(sums).toEqual(['COUNTDISTINCT(guest)', 'SUM(nights)']);
    expect(made.body[0]!.alternate).toBe(THEMES[1]!.alternate);
  });

  it('is a report at every step', () => {
    for (const part of [{ fields: [] }, { fields: [], layout: 'form' }, { groups: [] }, { theme: THEMES[4]! }] as const)
      expect(plan(guidedReport({ ...choices, ...part }, entity)).problems).toEqual([]);
  });
});

describe('templates in the theme of a house', () => {
  const [house] = ownThemes(
    [
      {
        name: 'House',
        accent: '#2f4b6e',
        page: { paper: 'A5' },
        furniture: { pageHeader: { height: 9 }, firstPageHeader: { height: 20 }, pageOverlay: { height: 5 } },
      },
    ],
    null,
  );
  const made = (template: (typeof TEMPLATES)[number]) =>
    templateReport(
      template,
      {
        title: 'Huts',
        source: { model: hutModel.name },
        entity: 'hut',
        page: house!.page!,
        theme: house!,
        language: 'en',
        timeZone: 'UTC',
        words: { page: 'Page', of: 'of', total: 'Total' },
      },
      hutModel.entities[0]!,
      hutModel,
    );

  it('have its letterhead and its paper, but for labels, which fill their sheet', () => {
    for (const template of ['list', 'nested', 'cards', 'letter'] as const) {
      const { pageHeader, firstPageHeader, pageOverlay, page, theme } = made(template);
      expect([template, theme, page.paper]).toEqual([template, 'House', 'A5']);
      expect([pageHeader?.height, firstPageHeader?.height, pageOverlay?.height]).toEqual([9, 20, 5]);
    }
    const labels = made('labels');
    for (const band of FURNITURE) expect([band, labels[band]]).toEqual([band, undefined]);
    expect(labels.styles.Title).toMatchObject({ color: '#2f4b6e' });
  });
});

describe('templates', () => {
  const choices = {
    title: 'Huts',
    source: { model: hutModel.name },
    entity: 'hut',
    page: report.page,
    theme: THEMES[1]!,
    language: 'en',
    timeZone: 'UTC',
    words: { page: 'Page', of: 'of', total: 'Total' },
  };

  it('make a valid report of any rows, without a problem', () => {
    for (const template of TEMPLATES) {
      for (const entity of hutModel.entities) {
        const made = templateReport(template, { ...choices, entity: entity.name }, entity, hutModel);
        expect(readDefinition(JSON.parse(JSON.stringify(made))).ok).toBe(true);
        expect(plan(made).problems.map((p) => [template, entity.name, p.code])).toEqual([]);
      }
    }
  });

  it('nest the rows that belong to each row', () => {
    const made = templateReport('nested', choices, hutModel.entities[0]!, hutModel);
    expect(made.body[0]!.drawers![0]).toMatchObject({ rows: { relation: 'stays' }, name: 'stay' });
  });
});

describe('changes between two revisions', () => {
  it('are told by what was added, removed, moved and changed', () => {
    const newer = applyEdit(report, {
      do: 'all',
      edits: [
        { do: 'report', settings: { name: 'Other' } },
        { do: 'drawer', drawer: 'huts', settings: { filter: 'id > 1' } },
        { do: 'removeBand', band: { drawer: 'huts', band: 'footer' } },
        { do: 'move', items: ['cap'], dx: 3, dy: 0 },
        { do: 'set', items: ['name'], settings: { formula: 'UPPER(name)' } },
        { do: 'add', band: detail, items: band(0, field('new', 'id')).items },
      ],
    });
    const said = changesBetween(report, newer).map((c) => [c.what, c.how, c.id, c.settings.join()]);
    expect(said).toEqual([
      ['report', 'changed', '', 'name'],
      ['drawer', 'changed', 'huts', 'filter'],
      ['band', 'removed', 'huts/footer', ''],
      ['item', 'removed', 'sum', ''],
      ['item', 'moved', 'cap', 'x'],
      ['item', 'changed', 'name', 'formula'],
      ['item', 'added', 'new', ''],
    ]);
    expect(changesBetween(report, report)).toEqual([]);
    const order = (...ids: string[]) =>
      definition({ body: ids.map((id) => ({ id, name: id, rows: { entity: 'hut' } })) });
    const told = (...ids: string[]) => changesBetween(order('a', 'b', 'c'), order(...ids)).map((c) => [c.how, c.id]);
    expect(told('c', 'a', 'b')).toEqual([['moved', 'c']]);
    expect(told('b', 'c', 'a')).toEqual([['moved', 'a']]);
    expect(told('a', 'c')).toEqual([['removed', 'b']]);
  });
});
