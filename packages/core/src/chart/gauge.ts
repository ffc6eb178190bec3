import type { Saying } from './chart.ts';

/** Kinds of gauges, in the order in which they are offered. */
export const GAUGE_TYPES = ['dial', 'half', 'scale', 'bullet', 'tank', 'figure', 'bar'] as const;
export type GaugeType = (typeof GAUGE_TYPES)[number];

export interface GaugeZone {
  /** Open at an end that is null. */
  from: number | null;
  to: number | null;
  color: string;
  caption: string;
}

/** What a value is held against. */
export interface GaugeChange {
  /** Of the value to what it was; 0 when it is the same. */
  direction: -1 | 0 | 1;
  /** Whether that is good; null where it is neither. */
  isGood: boolean | null;
  /** The change as it is shown. */
  text: string;
  caption: string;
}

/** One number, and all that is shown with it. */
export interface Gauge {
  type: GaugeType;
  value: number | null;
  /** The value as it is shown, without its unit. */
  text: string;
  unit: string;
  title: string;
  /** Ends of its scale; null where they go by what is shown. */
  from: number | null;
  to: number | null;
  target: { value: number; text: string } | null;
  zones: readonly GaugeZone[];
  change: GaugeChange | null;
  /** Divisions of the scale, about; null where they go by its length. And how many parts each of them has. */
  major: number | null;
  minor: number;
  color: string;
  /** Number format of the ticks; empty when they suit their steps. */
  tickFormat: string;
  format: string;
  saying: Saying;
}

/** The colour of the zone that a value lies in; null where it is in none. Of two that meet, the upper one has the value. */
export const zoneOf = ({ zones }: Pick<Gauge, 'zones'>, value: number | null): GaugeZone | null =>
  value === null
    ? null
    : (zones.findLast(
        ({ from, to }) =>
          (from === null || value >= from) && (to === null || value < to || (value === to && from !== to)),
      ) ?? null);
