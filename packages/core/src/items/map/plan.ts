import { FigurePlanning } from '../../data/figure-planning.ts';
import type { PlanItem } from '../../data/item-planning.ts';
import type { ItemOf } from '../../definition/schema.ts';
import { problem } from '../../problems/problem.ts';

/** Names of the groups inside a place: its shape, or its degrees. */
export const SHAPE_KEY = '_shape';
export const LON_KEY = '_lon';
export const LAT_KEY = '_lat';

const isSet = (source: string | undefined): source is string => source !== undefined && source.trim() !== '';

/** Whether it says where its places are. */
export const hasPlaces = ({ shape, lon, lat }: ItemOf<'map'>): boolean => isSet(shape) || (isSet(lon) && isSet(lat));

export const planMap: PlanItem<'map'> = (item, planning) => {
  const { along, shape, lon, lat, measure, format, onPress } = item;
  if (!along || !hasPlaces(item)) {
    planning.planner.found(problem('map-without-places', planning.place));
    return {};
  }
  const figure = FigurePlanning.begin(planning, item.rows);
  if (!figure) return {};
  figure.key(along, 'along');
  if (isSet(shape)) figure.key({ name: SHAPE_KEY, by: shape }, 'shape');
  else {
    figure.key({ name: LON_KEY, by: lon! }, 'lon');
    figure.key({ name: LAT_KEY, by: lat! }, 'lat');
  }
  if (isSet(measure)) figure.measure(measure, format, 'measure');
  figure.value(along.order, 'along/order');
  figure.link(onPress, 'onPress');
  return { figure: figure.finish(isSet(shape) ? 2 : 3) };
};
