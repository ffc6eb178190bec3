import type { Gauge } from './gauge.ts';
import { type Extent, extentOf } from './series.ts';
import { type ValueScale, valueScale } from './value-scale.ts';

/** The scale of a gauge over so many points: from 0, as far as all that it shows reaches, unless its ends are set. */
export const gaugeScale = (gauge: Gauge, length: number, count: number): ValueScale => {
  const { value, target, zones, from, to, major, saying, format, tickFormat } = gauge;
  const known = [value, target?.value ?? null, ...zones.flatMap((zone) => [zone.from, zone.to])];
  const extent = extentOf([0, ...known]) ?? ([0, 1] as Extent);
  const set = { title: '', format: tickFormat, log: false, from, to, grid: false, hidden: false };
  return valueScale(extent, length, set, format, major ?? count, saying);
};

/** Where the small divisions between the ticks stand, those past the outer ones included. */
export const minorTicks = ({ ticks }: ValueScale, parts: number, length: number): number[] => {
  if (parts < 2 || ticks.length < 2) return [];
  const step = (ticks[1]!.at - ticks[0]!.at) / parts;
  if (!(step > 1.5)) return [];
  const all: number[] = [];
  for (let at = ticks[0]!.at - parts * step; at <= length + 0.01; at += step)
    if (at >= -0.01 && !ticks.some((tick) => Math.abs(tick.at - at) < step / 4)) all.push(at);
  return all;
};
