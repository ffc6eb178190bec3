import { CalendarDate, type ContentEvent, FormulaError, Moment } from '@gaveta/core/internal';
import { XMLValidator } from 'fast-xml-parser';
import { strFromU8, unzipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { block, documentOf, number, section, tableEvents, text } from '../content.test-support.ts';
import { NumberStyles } from './number-styles.ts';

const partsOf = async (events: readonly ContentEvent[], options: Record<string, unknown> = {}) => {
  const parts = unzipSync(new Uint8Array(await documentOf('ods', events, options)));
  for (const [name, data] of Object.entries(parts))
    if (name.endsWith('.xml')) expect(XMLValidator.validate(strFromU8(data)), name).toBe(true);
  return (name: string): string => strFromU8(parts[name]!);
};

describe('a spreadsheet of OpenDocument', () => {
  it('has values of their own types, and totals as formulas', async () => {
    const part = await partsOf([
      section(),
      block([
        text('1 Jun', 0, 60, { value: new CalendarDate(20_240), format: 'd mmm yyyy' }),
        number(12.5, 60, 60),
        text('yes', 120, 60, { value: true }),
        text('#N/A', 180, 60, { value: new FormulaError('#N/A') }),
        text('now', 240, 60, { value: new Moment(Date.UTC(2025, 5, 1, 6, 30)) }),
        text('50%', 300, 60, { value: 0.5, format: '0%' }),
      ]),
      ...tableEvents([
        ['Brecha', 2],
        ['Lago  Frio', 3],
      ]),
    ]);
    const body = part('content.xml');
    expect(body).toContain('office:value-type="date" office:date-value="2025-06-01"');
    expect(body).toContain('office:value-type="float" office:value="12.5"');
    expect(body).toContain('office:value-type="boolean" office:boolean-value="true"');
    expect(body).toContain('office:date-value="2025-06-01T06:30:00"');
    expect(body).toContain('office:value-type="percentage" office:value="0.5"');
    expect(body).toMatch(
      /table:formula="of:=SUBTOTAL\(9;\[\.([A-Z])2:\.\1[34]\]\)" office:value-type="float" office:value="5"/,
    );
    expect(body).toContain('Lago<text:s text:c="2"/>Frio');
  });

  it('has levels of an outline, captions that stay and are printed again, and places that links lead to', async () => {
    const part = await partsOf([
      section({ footer: block([text('Huts', 0, 100)]) }),
      ...tableEvents([['Brecha', 2]]),
      block([text('Closed', 0, 100, {}, { anchor: 'here' })], { isCollapsed: true }),
      block([text('inside', 0, 100, {}, { to: { anchor: 'here' } })], { depth: 1 }),
      { kind: 'break', parity: null },
      block([text('After', 0, 100)]),
    ]);
    const body = part('content.xml');
    expect(body).toMatch(/<table:table-header-rows><table:table-row .*?<\/table:table-header-rows>/);
    expect(body.match(/<table:table-row-group table:display="false">/g)).toHaveLength(1);
    expect(body.match(/<\/table:table-row-group>/g)).toHaveLength(1);
    expect(body).toContain('xlink:href="#place1"');
    expect(body).toMatch(/<table:named-range table:name="place1" table:base-cell-address="\$'[^']*'\.\$A\$4"/);
    expect(body).toContain('fo:break-before="page"');
    expect(part('settings.xml')).toContain('config:name="VerticalSplitPosition" config:type="int">1<');
    expect(part('styles.xml')).toContain('<style:region-left><text:p>Huts</text:p></style:region-left>');
  });

  it('covers what merged cells cover, in each of their rows', async () => {
    const high = { ...text('high', 0, 100, { align: 'center' }), height: 40 };
    const part = await partsOf([
      section(),
      block([high, text('a', 100, 50), text('b', 100, 50, {}, { y: 20 })]),
      block([text('wide', 0, 150, { align: 'center' })]),
    ]);
    const body = part('content.xml');
    expect(body).toContain('table:number-columns-spanned="1" table:number-rows-spanned="2"');
    expect(body).toContain('table:number-columns-spanned="2" table:number-rows-spanned="1"');
    const rows = [...body.matchAll(/<table:table-row [^>]*>(.*?)<\/table:table-row>/g)].map(([, row]) => row!);
    for (const row of rows) expect(row.match(/<table:(covered-)?table-cell/g)).toHaveLength(2);
  });
});

describe('number formats of OpenDocument', () => {
  const styleOf = (code: string): string => {
    const styles = new NumberStyles();
    styles.of(code);
    return styles.xml();
  };

  it('say what the codes of spreadsheets say', () => {
    expect(styleOf('#,##0.00')).toBe(
      '<number:number-style style:name="N1"><number:number number:min-integer-digits="1" number:decimal-places="2" number:min-decimal-places="2" number:grouping="true"/></number:number-style>',
    );
    expect(styleOf('0.0#%')).toContain(
      'number:decimal-places="2" number:min-decimal-places="1"/><number:text>%</number:text>',
    );
    expect(styleOf('0" m"')).toContain('<number:text> m</number:text>');
    expect(styleOf('€ 0')).toMatch(/<number:text>€ <\/number:text><number:number /);
    expect(styleOf('0.00E+00')).toContain('<number:scientific-number ');
  });

  it('tell minutes from months', () => {
    const style = styleOf('d mmm yyyy h:mm');
    expect(style).toMatch(/^<number:date-style/);
    expect(style).toContain('<number:month number:textual="true"/>');
    expect(style).toContain('<number:minutes number:style="long"/>');
    expect(styleOf('h:mm:ss')).toMatch(/^<number:time-style/);
    expect(styleOf('mm/yy')).toContain('<number:month number:style="long"/>');
  });

  it('have styles of their own for what is negative, and for zero', () => {
    const two = styleOf('0;[Red]-0');
    expect(two).toContain('style:condition="value()&gt;=0" style:apply-style-name="N1P0"');
    expect(two).toContain('fo:color="#b3402e"');
    const three = styleOf('0;-0;"none"');
    expect(three).toContain('style:condition="value()&lt;0" style:apply-style-name="N1P1"');
    expect(three).toContain('<number:text>none</number:text>');
  });

  it('are none where a code says nothing or cannot be read', () => {
    expect(new NumberStyles().of('')).toBeNull();
    expect(new NumberStyles().of('General')).toBeNull();
  });
});
