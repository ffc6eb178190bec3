import { describe, expect, it } from 'vitest';
import { readDefinition, readDefinitionText } from '../definition/read.ts';
import { definitionJsonSchema } from '../definition/schema.ts';
import { applyEdit } from '../edit/edit.ts';
import { band, definition, field, nest, plan } from '../layout/huts.test-support.ts';
import { problemLine, problemText } from '../problems/problem.ts';
import { readParameters } from './parameters.ts';
import { rowsSignature } from './signature.ts';

const hut = (more: Record<string, unknown> = {}, report: Record<string, unknown> = {}) =>
  definition({ ...report, body: [{ id: 'huts', name: 'hut', rows: { entity: 'hut' }, ...more }] });
const codes = (report: ReturnType<typeof definition>, nested = {}) => plan(report, nested).problems.map((p) => p.code);
const stays = { id: 'stays', name: 'stay', rows: { relation: 'stays' } };
const text = (report: ReturnType<typeof definition>) => plan(report).problems.map(problemText).join(' ');

describe('a plan says what is wrong, where, and what to do', () => {
  it.each([
    ['an entity that is not there', { rows: { entity: 'hutt' } }, 'unknown-entity', 'Did you mean hut?'],
    [
      'a relation that is not there',
      { drawers: [{ ...stays, rows: { relation: 'stayz' } }] },
      'unknown-relation',
      'Did you mean stays?',
    ],
    [
      'a field of an inner drawer outside a total',
      { detail: band(9, field('f', 'guest')), drawers: [stays] },
      'needs-one-row',
      'SUM(guest)',
    ],
    [
      'a field of its own rows in a footer',
      { footer: band(9, field('f', 'name')) },
      'needs-one-row',
      'detail band of hut',
    ],
    [
      'a total inside a total',
      { footer: band(9, field('f', 'SUM(1 + SUM(id))')) },
      'total-in-total',
      'inner formula alone',
    ],
    [
      'a row number inside a total',
      { footer: band(9, field('f', 'SUM(IF(ROWNUMBER() > 10; id; 0))')) },
      'order-in-total',
      'first N',
    ],
    ['a total in a filter', { filter: 'SUM(id) > 3' }, 'total-in-query', 'Use a field'],
    ['a filter that is no condition', { filter: 'id + 1' }, 'wrong-type', 'TRUE or FALSE'],
    ['a sum of text', { footer: band(9, field('f', 'SUM(name)')) }, 'wrong-type', 'a number'],
    ['a hidden field', { detail: band(9, field('f', 'secret')) }, 'hidden-field', 'not available'],
    [
      'a format that is none',
      { detail: band(9, field('f', 'id', { format: '[oops' })) },
      'definition-malformed',
      '#,##0.00',
    ],
    ['a style that is not there', { detail: band(9, field('f', 'id', { style: 'Loud' })) }, 'unknown-style', 'Loud'],
    [
      'an item past the edge of the page',
      { detail: band(9, field('f', 'id', { x: 150 })) },
      'outside-page',
      'Move it inside',
    ],
    ['a report that is not there', { detail: band(9, nest('gone')) }, 'unknown-subreport', 'gone'],
  ])('%s', (_what, body, code, words) => {
    const report = hut(body);
    expect(codes(report)).toContain(code);
    expect(text(report)).toContain(words);
  });

  it('a total without rows, and fields of drawers that do not lie inside one another', () => {
    expect(codes(definition({ footer: band(9, field('f', 'COUNT(1)')) }))).toEqual(['total-without-rows']);
    const twice = hut({
      footer: band(9, field('f', 'SUM(guest2.id * stay.id)')),
      drawers: [stays, { ...stays, id: 'again', name: 'guest2' }],
    });
    expect(codes(twice)).toEqual(['total-fields-apart']);
  });

  it('a subreport in a page header', () => {
    expect(codes(hut({}, { pageHeader: band(9, nest('n')) }), { n: definition({}) })).toEqual([
      'subreport-in-page-band',
    ]);
  });

  it('nothing about a parameter that has the name of a hidden field: it is the parameter that is meant', () => {
    const parameters = [{ name: 'secret', label: 'Secret', type: 'text' }];
    const report = hut({ filter: 'name = secret', detail: band(5, field('f', 'secret')) }, { parameters });
    expect(codes(report)).toEqual([]);
  });

  it('links to parameters that are missing or not there', () => {
    const nested = definition({ parameters: [{ name: 'hut', label: 'Hut', type: 'number', required: true }] });
    const report = hut({
      detail: band(9, nest('n', { links: { hutt: 'id' } })),
    });
    expect(codes(report, { n: nested })).toEqual(['unknown-link']);
  });

  it('in a line with its path, as the command line prints it', () => {
    const [problem] = plan(hut({ detail: band(9, field('f', '1 + nmae')) })).problems;
    expect(problemLine(problem!)).toBe(
      'error: body/0/detail/items/0 at character 5: “nmae” is not a field, drawer or parameter in reach here. Did you mean name?',
    );
  });

  it('nothing about a report that is right', () => {
    const report = hut({
      filter: 'id > 3',
      sort: [{ by: 'name', descending: true }],
      first: 3,
      detail: band(9, field('f', "'name' & hut.id")),
    });
    expect(codes(report)).toEqual([]);
  });
});

describe('rows are fetched anew', () => {
  const report = hut(
    { detail: band(9, field('f', 'name')) },
    { parameters: [{ name: 'least', label: 'Least', type: 'number', default: 1 }] },
  );
  const signature = (r: typeof report, given = {}) => rowsSignature(plan(r), readParameters(r, given).values);

  it('when an edit needs other columns or rows, and not for looks and places', () => {
    const set = (settings: Record<string, unknown>) => applyEdit(report, { do: 'set', items: ['f'], settings });
    expect(signature(applyEdit(report, { do: 'move', items: ['f'], dx: 5, dy: 3 }))).toBe(signature(report));
    expect(signature(applyEdit(report, { do: 'look', items: ['f'], look: { bold: true } }))).toBe(signature(report));
    expect(signature(set({ formula: 'UPPER(name)' }))).toBe(signature(report));
    expect(signature(set({ formula: 'id' }))).not.toBe(signature(report));
    expect(signature(report, { least: 2 })).not.toBe(signature(report));
    // The rows bring the definition of a nested report along.
    const nesting = (id: string) => hut({ detail: band(9, nest(id)) });
    expect(signature(nesting('a'))).not.toBe(signature(nesting('b')));
  });
});

describe('a definition', () => {
  it('is read back as it was written', () => {
    const report = hut({ detail: band(9, field('f', 'name')), drawers: [{ ...stays, detail: band(4) }] });
    const again = readDefinitionText(JSON.stringify(report));
    expect(again).toEqual({ ok: true, report });
  });

  it('is refused with the path of each mistake', () => {
    const refused = (json: unknown) => {
      const read = readDefinition(json);
      return read.ok ? [] : read.problems.map((p) => `${p.code} ${p.place.path ?? ''}`);
    };
    expect(refused(null)).toEqual(['definition-not-json ']);
    expect(refused({ gaveta: 7, name: 'x' })).toEqual(['definition-too-new gaveta']);
    expect(refused({ gaveta: 2, name: 'x', header: { height: 'tall', items: [{ kind: 'clock' }] } })).toEqual([
      'definition-malformed header/height',
      'definition-malformed header/items/0/kind',
    ]);
    expect(refused({ gaveta: 2, name: 'x', colour: 'red' })).toEqual(['definition-malformed ']);
    const twice = { gaveta: 2, name: 'x', header: band(9, field('a', '1')), footer: band(9, field('a', '2')) };
    expect(refused(twice)).toEqual(['duplicate-id footer/items/0']);
    const read = readDefinitionText('{ "gaveta": ');
    expect(read.ok ? '' : read.problems[0]!.code).toBe('definition-not-json');
  });

  it('has a published schema that knows nested drawers', () => {
    const schema = JSON.stringify(definitionJsonSchema());
    for (const word of ['drawers', 'detailFooter', 'subreport', 'pageFooter']) expect(schema).toContain(word);
  });
});
