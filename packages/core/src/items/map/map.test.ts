import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { boxOfMark, overlap, textCorners, writer } from '../../chart/charts.test-support.ts';
import { readGeoJson } from '../../chart/geo.ts';
import { drawMap, type MapData, stepEnds, stepOf } from '../../chart/map.ts';
import { band, definition, lay, plan } from '../../layout/huts.test-support.ts';
import type { FigureMark, TextMark } from '../../page/page.ts';

const square = (x: number, y: number, size = 1): [number, number][] => [
  [x, y],
  [x + size, y],
  [x + size, y + size],
  [x, y + size],
  [x, y],
];
const polygon = (...rings: [number, number][][]): string => JSON.stringify({ type: 'Polygon', coordinates: rings });

const data = (more: Partial<MapData> = {}): MapData => ({
  places: [],
  title: '',
  shows: 'colors',
  steps: 4,
  ramp: ['#eef3ef', '#1f5c4d'],
  labels: 'name',
  legend: 'right',
  empty: 'No places.',
  blank: '(blank)',
  number: String,
  ...more,
});
const place = (label: string, geometry: string, value: number | null) => ({
  label,
  geometry: readGeoJson(geometry),
  value,
  text: String(value ?? ''),
});
const box = { x: 10, y: 20, width: 200, height: 150 };

describe('GeoJSON', () => {
  it('is read in every form that can be drawn, either way round', () => {
    const there = square(10, 40);
    for (const ring of [there, [...there].reverse()]) {
      const read = readGeoJson(polygon(ring));
      expect(read?.type).toBe('Polygon');
      const [path] = drawMap(data({ places: [place('a', polygon(ring), 1)], legend: 'none' }), box, writer);
      // The square, and not all of the earth but for it.
      const { width, height } = boxOfMark(path!);
      expect(width).toBeLessThan(200);
      expect(height).toBeLessThanOrEqual(151);
    }
    const feature = { type: 'Feature', properties: {}, geometry: { type: 'Point', coordinates: [1, 2] } };
    expect(readGeoJson(JSON.stringify(feature))?.type).toBe('Point');
    expect(readGeoJson(JSON.stringify({ type: 'FeatureCollection', features: [feature] }))?.type).toBe(
      'GeometryCollection',
    );
  });

  it('is refused where it is none, or cannot be drawn', () => {
    const wrong = [
      '',
      '{',
      'null',
      '[]',
      '{"type":"Polygon"}',
      '{"type":"Polygon","coordinates":[[[0,0],[1,1]]]}',
      '{"type":"Point","coordinates":["a",1]}',
      '{"type":"Point","coordinates":[0,91]}',
      '{"type":"Point","coordinates":[1e999,0]}',
      '{"type":"Feature","geometry":null}',
      '{"type":"Circle","coordinates":[0,0]}',
    ];
    for (const text of wrong) expect(readGeoJson(text), text).toBeNull();
    let deep = '{"type":"Point","coordinates":[0,0]}';
    for (let i = 0; i < 5_000; i++) deep = `{"type":"GeometryCollection","geometries":[${deep}]}`;
    expect(readGeoJson(deep)).toBeNull();
    const many = Array.from({ length: 210_000 }, (_, i) => [i % 90, 1]);
    expect(readGeoJson(JSON.stringify({ type: 'LineString', coordinates: many }))).toBeNull();
    fc.assert(
      fc.property(fc.jsonValue(), (value) => readGeoJson(JSON.stringify(value)) === null || true),
      { seed: 16 },
    );
  });
});

describe('a map', () => {
  it('keeps areas: what is twice as large covers twice as much, far north as well', () => {
    const [small, large] = [polygon(square(0, 60)), polygon(square(3, 60), square(3.2, 60.2, 0.1))];
    const marks = drawMap(
      data({ places: [place('a', small, 1), place('b', large, 2)], legend: 'none', labels: 'none' }),
      box,
      writer,
    );
    const sizes = marks.filter(({ kind }) => kind === 'path').map((mark) => boxOfMark(mark));
    expect(sizes).toHaveLength(2);
    expect((sizes[0]!.width * sizes[0]!.height) / (sizes[1]!.width * sizes[1]!.height)).toBeCloseTo(1, 1);
  });

  it('colours by steps of equal width, each value in one', () => {
    expect(stepEnds([0, 8], 4)).toEqual([0, 2, 4, 6, 8]);
    expect(stepEnds([5, 5], 4)).toEqual([5, 5]);
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: -99, max: 99 }), { minLength: 1 }),
        fc.integer({ min: 1, max: 12 }),
        (list, steps) => {
          const ends = stepEnds([Math.min(...list), Math.max(...list)], steps);
          for (const value of list) {
            const at = stepOf(ends, value);
            expect(at >= 0 && at < ends.length - 1).toBe(true);
            expect(value >= ends[at]! - 1e-9 && value <= ends[at + 1]! + 1e-9).toBe(true);
          }
        },
      ),
      { seed: 16 },
    );
  });

  it('stays inside its box with no label on another, whatever its places', () => {
    const lon = fc.double({ min: -179, max: 179, noNaN: true });
    const lat = fc.double({ min: -85, max: 85, noNaN: true });
    const one = fc.record({
      label: fc.constantFrom('', 'Alto Norte', 'Refúgio da Última Neve e das Andorinhas'),
      at: fc.tuple(lon, lat),
      value: fc.option(fc.integer({ min: -5, max: 500 })),
      isShape: fc.boolean(),
    });
    fc.assert(
      fc.property(
        fc.array(one, { maxLength: 12 }),
        fc.constantFrom('colors' as const, 'dots' as const),
        fc.constantFrom('none' as const, 'name' as const, 'value' as const),
        (list, shows, labels) => {
          const places = list.map(({ label, at: [x, y], value, isShape }) =>
            place(
              label,
              isShape
                ? polygon(square(Math.min(x, 178), Math.min(y, 84), 0.8))
                : JSON.stringify({ type: 'Point', coordinates: [x, y] }),
              value,
            ),
          );
          const texts: TextMark[] = [];
          for (const mark of drawMap(data({ places, shows, labels }), box, writer)) {
            const { x, y, width, height } = boxOfMark(mark);
            const isInside = x >= 8 && y >= 18 && x + width <= 212 && y + height <= 172;
            if (!isInside) throw new Error(JSON.stringify(mark));
            if (mark.kind === 'text') texts.push(mark);
          }
          for (const [i, a] of texts.entries())
            for (const b of texts.slice(i + 1)) expect(overlap(textCorners(a), textCorners(b))).toBe(false);
        },
      ),
      { numRuns: 300, seed: 16 },
    );
  });

  it('leaves out what is too small to be seen of a coast with very many points', () => {
    const ring = Array.from({ length: 100_000 }, (_, i): [number, number] => {
      const angle = (i / 100_000) * 2 * Math.PI;
      const radius = 1 + 0.002 * Math.sin(i * 0.07);
      return [10 + radius * Math.cos(angle), 40 + radius * Math.sin(angle)];
    });
    const coast = polygon([...ring, ring[0]!]);
    const [path] = drawMap(data({ places: [place('a', coast, 1)], legend: 'none', labels: 'none' }), box, writer);
    if (path?.kind !== 'path') throw new Error('no path');
    expect(path.path.length).toBeLessThan(40_000);
    // Still the same circle: it fills the height of the box.
    expect(boxOfMark(path).height).toBeCloseTo(148, 0);
  });

  const item = (more: object) => ({
    kind: 'map',
    id: 'm',
    x: 0,
    y: 0,
    width: 90,
    height: 60,
    rows: { entity: 'stay' },
    along: { name: 'who', by: 'guest' },
    shape: 'guest',
    measure: 'SUM(nights)',
    ...more,
  });
  const laid = async (more: object, stay: object[]) => {
    const { pages, result } = await lay(definition({ header: band(62, item(more)), body: [] }), { stay } as never);
    const figure = pages.flatMap(({ marks }) => marks).find((mark): mark is FigureMark => mark.kind === 'figure');
    return { figure, problems: result.problems.map(({ code }) => code) };
  };

  it('reads shapes and degrees from the rows, with the totals of each place', async () => {
    const rows = [
      { id: 1, guest: polygon(square(0, 0)), nights: 2 },
      { id: 2, guest: polygon(square(0, 0)), nights: 3 },
      { id: 3, guest: polygon(square(2, 0)), nights: 4 },
    ];
    const { figure, problems } = await laid({}, rows);
    expect(problems).toEqual([]);
    expect(figure?.alternative).toBe('Map of 2 places.');
    expect(figure?.table.map(([, value]) => value)).toEqual(['SUM(nights)', '5', '4']);
    const { shape: _, ...points } = item({ lon: 'id', lat: 'nights' });
    const { pages } = await lay(definition({ header: band(62, points), body: [] }), { stay: rows } as never);
    expect(pages[0]!.marks.filter((mark) => mark.kind === 'path')).toHaveLength(2);
  });

  it('says which shapes are none, and draws the others', async () => {
    const rows = [
      { id: 1, guest: 'no shape', nights: 2 },
      { id: 2, guest: polygon(square(2, 0)), nights: 4 },
    ];
    expect((await laid({}, rows)).problems).toEqual(['not-geojson']);
    const degrees = { shape: undefined, lon: 'nights', lat: 'nights * 40' };
    expect((await laid(degrees, rows)).problems).toEqual(['no-such-place']);
    const codes = plan(definition({ header: band(62, item({ shape: undefined })), body: [] })).problems;
    expect(codes.map(({ code }) => code)).toEqual(['map-without-places']);
  });
});
