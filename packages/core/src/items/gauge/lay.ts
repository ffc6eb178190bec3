import { PALETTE } from '../../chart/colors.ts';
import { drawGauge } from '../../chart/draw-gauge.ts';
import { type Gauge, type GaugeChange, zoneOf } from '../../chart/gauge.ts';
import { zonesOverlap } from '../../chart/zones.ts';
import type { ItemOf } from '../../definition/schema.ts';
import type { EvaluationContext } from '../../formula/functions/context.ts';
import { chartWriters, numberOf, PreparedFigure, sayingOf } from '../../layout/figure.ts';
import { layNumber } from '../../layout/figure-box.ts';
import { type PrepareItem, plainItem } from '../../layout/preparing.ts';
import { problem } from '../../problems/problem.ts';
import { formatValue } from '../../text/format.ts';
import { divide, isNumeric, negate, subtract, toNumber } from '../../value/number.ts';
import { FormulaError } from '../../value/value.ts';

type GaugeItem = ItemOf<'gauge'>;

const SHARE_FORMAT = '+0.0%;-0.0%;0.0%';

/** A format that shows the sign of what is more as well. */
const signed = (format: string): string => {
  const plain = format === '' || format.includes(';') ? '#,##0.##' : format;
  return `+${plain};-${plain};${plain}`;
};

/** How a value changed against another one; null when there is none. */
const changeOf = (item: GaugeItem, figure: PreparedFigure, context: EvaluationContext): GaugeChange | null => {
  const value = figure.formula('value')?.(context) ?? null;
  const before = figure.formula('compare')?.(context) ?? null;
  if (!isNumeric(value) || !isNumeric(before)) return null;
  const difference = subtract(value, before);
  const direction = Math.sign(toNumber(difference)) as -1 | 0 | 1;
  const { good = 'up', compareAs = 'share', compareCaption = '' } = item;
  const isShare = compareAs === 'share';
  const whole = toNumber(before) < 0 ? negate(before) : before;
  const shown = isShare ? divide(difference, whole) : difference;
  const text =
    shown === null ? '–' : formatValue(shown, isShare ? SHARE_FORMAT : signed(figure.format('value')), context.report);
  const isGood = good === 'neither' || direction === 0 ? null : direction > 0 === (good === 'up');
  return { direction, isGood, text, caption: compareCaption };
};

export const gaugeOf = (item: GaugeItem, figure: PreparedFigure, context: EvaluationContext): Gauge => {
  const { report } = context;
  const format = figure.format('value');
  const value = figure.formula('value')?.(context) ?? null;
  const at = (path: string): number | null => figure.number(path, context);
  const target = figure.formula('target')?.(context) ?? null;
  const targetAt = numberOf(target);
  return {
    type: item.type,
    value: numberOf(value),
    text: value instanceof FormulaError ? value.code : formatValue(value, format, report),
    unit: item.unit ?? '',
    title: item.title ?? '',
    from: at('from'),
    to: at('to'),
    target: targetAt === null ? null : { value: targetAt, text: formatValue(target, format, report) },
    zones: (item.zones ?? []).map(({ color, caption = '' }, i) => ({
      from: at(`zones/${i}/from`),
      to: at(`zones/${i}/to`),
      color,
      caption,
    })),
    change: changeOf(item, figure, context),
    major: item.major ?? null,
    minor: item.minor ?? 1,
    color: item.color ?? PALETTE[0]!,
    tickFormat: item.tickFormat ?? '',
    format,
    saying: sayingOf(report, false),
  };
};

/** What a gauge says to who does not see it. */
const alternativeOf = (gauge: Gauge): string => {
  const { title, text, unit, target, change } = gauge;
  const zone = zoneOf(gauge, gauge.value)?.caption ?? '';
  const value = `${title === '' ? '' : `${title}: `}${text}${unit === '' ? '' : ` ${unit}`}`;
  const parts = [
    value,
    zone,
    target ? `/ ${target.text}` : '',
    change ? `${change.text} ${change.caption}`.trim() : '',
  ];
  return parts.filter((part) => part !== '').join(', ');
};

export const prepareGauge: PrepareItem<'gauge'> = ({ item, figure: planned }, common, preparing) => {
  // An empty one says on the board that it is, and nothing on the page.
  if (item.value.trim() === '') return plainItem(common, { item, shapes: {}, lay: () => {} });
  const figure = planned && new PreparedFigure(planned);
  if (!figure?.formula('value')) return preparing.broken(common);
  const writerOf = chartWriters(preparing.book);
  return {
    ...plainItem(common, {
      item,
      shapes: {},
      lay: (own, box, out) =>
        layNumber(figure, { id: own.id, box, look: own.look ?? {}, out }, (context, inner, look) => {
          const gauge = gaugeOf(own, figure, context);
          out.formulas++;
          if (zonesOverlap(gauge.zones)) out.tell(problem('zones-overlap', { item: own.id }, {}, 'warning'));
          return { alternative: alternativeOf(gauge), table: [], marks: drawGauge(gauge, inner, writerOf(look)) };
        }),
    }),
    summaries: figure.summaries,
  };
};
