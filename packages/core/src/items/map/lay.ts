import { mapSentence } from '../../chart/alternative.ts';
import { type Geometry, readGeoJson } from '../../chart/geo.ts';
import { drawMap, type MapData, type MapPlace } from '../../chart/map.ts';
import type { ItemOf } from '../../definition/schema.ts';
import { chartWriters, numberOf, PreparedFigure } from '../../layout/figure.ts';
import { layFigure } from '../../layout/figure-box.ts';
import type { LayingOut } from '../../layout/prepared.ts';
import { type PrepareItem, plainItem } from '../../layout/preparing.ts';
import { type Problem, problem } from '../../problems/problem.ts';
import { CellContext, type CellTable, type GroupNode, type PreparedSummary } from '../../shape/summary.ts';
import { formatValue } from '../../text/format.ts';
import { blankWord } from '../../text/report-words.ts';
import { textOrderOf } from '../../text/text-order.ts';
import { valueText } from '../../value/value.ts';
import { chartGroups } from '../chart/groups.ts';
import { hasPlaces } from './plan.ts';

type MapItem = ItemOf<'map'>;

/** Most places that a map draws. */
const MOST_PLACES = 5_000;
const RAMP = ['#dcebe3', '#1f5c4d'] as const;

/** The first node below a group that says where it is. */
const innermost = (node: GroupNode): GroupNode[] =>
  node.inner.length === 0 ? [node] : node.inner.flatMap((inner) => innermost(inner));

const geometryAt = (nodes: readonly GroupNode[], isShape: boolean): Geometry | null | 'wrong' => {
  const shapes: Geometry[] = [];
  for (const node of nodes) {
    if (isShape) {
      if (node.value === null || node.value === '') continue;
      const read = readGeoJson(valueText(node.value));
      if (!read) return 'wrong';
      shapes.push(read);
      continue;
    }
    const [lon, lat] = [numberOf(node.parent?.value ?? null), numberOf(node.value)];
    if (lon === null || lat === null) continue;
    if (Math.abs(lon) > 360 || Math.abs(lat) > 90) return 'wrong';
    shapes.push({ type: 'Point', coordinates: [lon, lat] });
  }
  const points = shapes.flatMap((shape) => (shape.type === 'Point' ? [shape.coordinates] : []));
  // A place that several of its rows put elsewhere is in the middle of them.
  if (points.length > 1 && points.length === shapes.length) return { type: 'MultiPoint', coordinates: points };
  return shapes.length === 0
    ? null
    : shapes.length === 1
      ? shapes[0]!
      : { type: 'GeometryCollection', geometries: shapes };
};

const readMap = (
  item: MapItem,
  figure: PreparedFigure,
  summary: PreparedSummary,
  table: CellTable,
  { context, asks }: Pick<LayingOut, 'context' | 'asks'>,
): { map: MapData; problems: Problem[] } => {
  const cell = new CellContext(context, summary, table.empty());
  const { report } = context;
  const problems: Problem[] = [];
  const { along } = item;
  const texts = textOrderOf(report.language);
  const ordering = { cell, texts, at: (node: GroupNode) => cell.at(node, table.across) };
  // What is left over has no place.
  const { others: _, ...group } = along!;
  const order = figure.formula('along/order');
  const groups = chartGroups(table, table.down, table.down.inner, { ...group, gaps: false }, order, ordering, () => {});
  if (groups.length > MOST_PLACES)
    problems.push(
      problem('too-many-places', { item: item.id }, { count: groups.length, limit: MOST_PLACES }, 'warning'),
    );
  const format = along!.format ?? summary.summary.keys[0]?.format ?? '';
  const isShape = item.shape !== undefined && item.shape.trim() !== '';
  const wrong: string[] = [];
  const places = groups.slice(0, MOST_PLACES).map(({ node, value }, number): MapPlace => {
    const label = value === null || value === '' ? blankWord(report.language) : formatValue(value, format, report);
    const found = geometryAt(innermost(node), isShape);
    if (found === 'wrong') wrong.push(label);
    asks?.(item.id, number, node, table.across);
    cell.at(node, table.across);
    const measured = figure.formula('measure')?.(cell.context) ?? null;
    return {
      label,
      geometry: found === 'wrong' ? null : found,
      value: numberOf(measured),
      text: measured === null ? '' : formatValue(measured, figure.format('measure'), report),
      link: item.onPress ? figure.target(item.onPress, 'onPress', cell.context) : { cell: number },
    };
  });
  if (wrong.length > 0) {
    const data = { name: wrong[0]!, count: wrong.length };
    problems.push(problem(isShape ? 'not-geojson' : 'no-such-place', { item: item.id }, data, 'warning'));
  }
  return {
    problems,
    map: {
      places,
      title: item.title ?? '',
      shows: item.shows ?? 'colors',
      steps: item.steps ?? 5,
      ramp: [item.ramp?.from ?? RAMP[0], item.ramp?.to ?? RAMP[1]],
      labels: item.labels ?? 'none',
      legend: item.legend ?? 'right',
      empty: item.empty ?? '',
      blank: blankWord(report.language),
      number: (value) => formatValue(value, figure.format('measure') || '#,##0.##', report),
    },
  };
};

/** What a map says to who does not see it. */
const alternativeOf = (
  { title, places }: MapData,
  caption: string,
  language: string,
): { alternative: string; table: string[][] } => ({
  alternative: mapSentence(title, places.filter(({ geometry }) => geometry).length, language),
  table: [['', caption], ...places.map(({ label, text }) => [label, text])],
});

export const prepareMap: PrepareItem<'map'> = ({ item, figure: planned }, common, preparing) => {
  // An empty one says on the board that it is, and nothing on the page.
  if (!item.along || !hasPlaces(item)) return plainItem(common, { item, shapes: {}, lay: () => {} });
  const figure = planned && new PreparedFigure(planned);
  if (!figure?.summary) return preparing.broken(common);
  const { summary } = figure;
  const writerOf = chartWriters(preparing.book);
  return {
    ...plainItem(common, {
      item,
      shapes: {},
      lay: (own, box, out) =>
        layFigure(summary, { id: own.id, box, look: own.look ?? {}, out }, (table, inner, look) => {
          const { map, problems } = readMap(item, figure, summary, table, out);
          for (const found of problems) out.tell(found);
          return {
            ...alternativeOf(map, item.caption ?? item.measure ?? '', preparing.report.language),
            marks: drawMap(map, inner, writerOf(look)),
          };
        }),
    }),
    summaries: figure.summaries,
  };
};
