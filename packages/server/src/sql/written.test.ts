import { writtenParts } from '@gaveta/core/internal';
import { beforeAll, describe, expect, it } from 'vitest';
import { StatementError } from '../connection/connection.ts';
import { Bindings } from './expression.ts';
import { identifier } from './identifiers.ts';
import { readyStatement, withoutEnd } from './written.ts';
import { loadParser } from './written-check.ts';

beforeAll(() => loadParser());

const parametersOf = (text: string): string[] =>
  writtenParts(text).flatMap((part) => ('parameter' in part ? [part.parameter] : []));

describe('parameters in a written statement', () => {
  it.each<[string, string[]]>([
    ['select :a + :b', ['a', 'b']],
    ['select :season.from, :season.to', ['season.from', 'season.to']],
    ['select :season.fromage', ['season']],
    ['select :época', ['época']],
    ["select ':a', E'it\\'s :b', 'it''s :c'", []],
    ['select ":a" -- :b\n, :c', ['c']],
    ['select /* :a */ :b', ['b']],
    ['select $$ :a $$, $x$ :b $$ :c $x$, :d', ['d']],
    ['select 1::int, :a::text', ['a']],
    ['select list[1:2]', []],
    ["select 'open :a", []],
    ['select 12:00', []],
  ])('%s', (text, expected) => {
    expect(parametersOf(text)).toEqual(expected);
  });
  it('leave every other character as it was', () => {
    const text = `select 'a:b' as "x:y", :p::int /* :q */ from hut -- :r`;
    expect(
      writtenParts(text)
        .map((part) => ('text' in part ? part.text : `:${part.parameter}`))
        .join(''),
    ).toBe(text);
  });
});

describe('a statement made ready', () => {
  const ready = (text: string, isCut = false) => {
    const bindings = new Bindings();
    const made: string[] = [];
    const table = (name: string) => () => {
      made.push(name);
      return { sql: `select * from real_${name}`, isCut };
    };
    const statement = readyStatement(text, {
      tables: new Map([
        ['hut', table('hut')],
        ['stay', table('stay')],
      ]),
      names: {
        parameter: (_, wanted) => ({
          sql: bindings.bind('v', wanted === 'any' ? 'text' : wanted),
          solid: true,
          type: 'text',
        }),
      },
    });
    return { ...statement, made, values: bindings.values };
  };
  it('stands over the tables that it names, and no others', () => {
    const { text, made, values } = ready('select name from hut where name = :p;');
    expect(made).toEqual(['hut']);
    expect(values).toEqual(['v']);
    expect(text).toBe(
      'with hut as (select * from real_hut)\nselect * from (\nselect name from hut where name = ($1::text)\n) written',
    );
  });
  it('keeps the database from looking behind a row scope', () => {
    expect(ready('select 1 from hut', true).text).toContain('with hut as materialized (');
  });
  it('takes the name of a WITH expression for that expression', () => {
    expect(ready('with hut as (select 1 as x) select x from hut').made).toEqual([]);
    expect(ready('with hut as (select * from hut) select 1 from hut').made).toEqual(['hut']);
    expect(ready('with a as (select 1 from stay), b as (select 1 from a) select 1 from b').made).toEqual(['stay']);
  });
  it('finds its way back from the place of an error to what was written', () => {
    const source = 'select :p, nam from hut where x = :p and wrong';
    const { text, written } = ready(source);
    for (const word of ['nam', 'wrong', 'hut where'])
      expect(written(text.lastIndexOf(word)), word).toBe(source.indexOf(word));
    expect(written(text.indexOf('($1'))).toBe(source.indexOf(':p'));
    expect(written(0)).toBeNull();
  });
  it('tells the place of what is refused in characters, not bytes', () => {
    const source = `select 'äöü€', pg_sleep(1)`;
    try {
      ready(source);
      expect.fail('it was taken');
    } catch (error) {
      expect(error).toBeInstanceOf(StatementError);
      expect((error as StatementError).position).toBe(source.indexOf('pg_sleep'));
    }
  });
  it('ends where the last semicolon stood', () => {
    expect(withoutEnd('select 1 ;; \n')).toBe('select 1');
  });
});

it('quotes names only where they must be', () => {
  expect(['hut', 'hut_2', 'Hut', 'select', 'a b', 'a"b', 'größe', '2nd', ''].map(identifier)).toEqual([
    'hut',
    'hut_2',
    '"Hut"',
    '"select"',
    '"a b"',
    '"a""b"',
    '"größe"',
    '"2nd"',
    '""',
  ]);
});
