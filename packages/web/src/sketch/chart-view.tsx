import {
  CHART_KINDS,
  CHART_TYPES,
  type ChartPoint,
  type ChartType,
  changedChart,
  chartOf,
  chartRows,
  chartSketch,
  drawChart,
  groupsOf,
  isMeasured,
  keptFromChart,
  measuredWriter,
  pageToMarks,
  questionOf,
  type ShownChart,
  type Sketch,
  type SketchChart,
  sketchChart,
  withGroup,
} from '@gaveta/core/internal';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { Settings2, X } from 'lucide-react';
import { Popover } from 'radix-ui';
import { type PointerEvent, useLayoutEffect, useMemo, useRef, useState } from 'react';
import { sketchQueries } from '../api/sketches.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { problemWords } from '../i18n/words.ts';
import { Check } from '../ui/commit.tsx';
import { Button, IconButton, Line } from '../ui/controls.tsx';
import { Panel } from '../ui/panel.tsx';
import { Select } from '../ui/select.tsx';
import { useParts } from './parts.ts';
import { columnLabel, groupLabel, inSentence } from './words.ts';

const HEIGHT = 178;
const SIZE = 11;
const INK = '#1f2a2e';
/** Movement in CSS pixels from which on a press is a drag. */
const STEADY = 4;

let canvas: CanvasRenderingContext2D | null = null;
const writer = measuredWriter('Figtree Variable', SIZE, INK, (text, isBold) => {
  canvas ??= document.createElement('canvas').getContext('2d')!;
  canvas.font = `${isBold ? 700 : 400} 100px "Figtree Variable"`;
  return canvas.measureText(text).width * 10;
});

/** The chart above the lines: pressing or dragging across it keeps what was touched. */
export const ChartView = ({ isOn }: { isOn: boolean }) => {
  const { t, i18n } = useTranslation();
  const { sketch, change, reach, asked, isReading } = useParts();
  const shown = chartOf(sketch);
  const box = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(800);
  useLayoutEffect(() => {
    const watch = new ResizeObserver(([entry]) => setWidth(Math.round(entry!.contentRect.width)));
    watch.observe(box.current!);
    return () => watch.disconnect();
  }, []);
  const of = chartSketch(sketch);
  const question = of ? JSON.stringify([asked.stored ?? null, questionOf(chartRows(sketch)), of.groups]) : '';
  const levels = shown?.split ? 2 : 1;
  const found = useQuery({
    ...sketchQueries.chart(asked, levels, question),
    enabled: of !== null && isOn,
    placeholderData: keepPreviousData,
  });
  const answer = found.data?.windows?.[0];
  const fits = answer && shown && answer.fields.some(({ name }) => name === shown.along.name);
  const drawn = useMemo(
    () => (fits ? draw(sketch, shown, answer, width, t('sketch.noLines')) : null),
    [sketch, shown, answer, fits, width, t],
  );
  const says = (label: string): string => inSentence(label, i18n.language);
  const caption = shown && [
    shown.measures.map((column) => says(columnLabel(column, reach))).join(', '),
    t('sketch.chartBy', { of: says(groupLabel(shown.along, reach)) }),
    ...(shown.split ? [t('sketch.chartSplit', { of: says(groupLabel(shown.split, reach)) })] : []),
  ];
  const failure = found.data?.failure;
  return (
    <section
      aria-label={t('sketch.chart')}
      data-testid="chart"
      aria-busy={found.isFetching}
      className="rounded-md border border-rule bg-paper"
    >
      <div className="flex h-8 items-center gap-2 ps-3 pe-1">
        <span className="min-w-0 flex-1 truncate text-[11.5px] text-ink-2">
          {caption?.join(', ')}
          {caption && <span className="text-ink-3">: {t('sketch.chartDrag')}</span>}
        </span>
        {found.data && answer && answer.lines.length >= 500 && (
          <span className="text-[11.5px] text-ink-3">{t('sketch.chartFirst')}</span>
        )}
        {shown && !isReading && <ChartSettings shown={shown} />}
        {!isReading && (
          <IconButton
            label={t('sketch.chartAway')}
            onClick={() => {
              const { chart: _, ...rest } = sketch;
              change({ ...rest, only: rest.only.filter((condition) => !condition.fromChart) });
            }}
          >
            <X size={14} />
          </IconButton>
        )}
      </div>
      <div ref={box} data-look="light" className="px-0" style={{ minHeight: shown ? HEIGHT : undefined }}>
        {!shown && <Suggestions />}
        {failure && (
          <p role="alert" className="px-3 py-2 text-rust-strong">
            {problemWords(failure.problem)}
          </p>
        )}
        {drawn && shown && <Drawn drawn={drawn} shown={shown} width={width} />}
      </div>
    </section>
  );
};

interface DrawnChart {
  svg: string;
  points: ChartPoint[];
}

const draw = (
  sketch: Sketch,
  shown: ShownChart,
  answer: Parameters<typeof sketchChart>[2],
  width: number,
  empty: string,
): DrawnChart => {
  const { chart, points } = sketchChart(sketch, shown, answer, { empty });
  const marks = drawChart(chart, { x: 10, y: 2, width: Math.max(50, width - 20), height: HEIGHT - 8 }, writer);
  const { marks: drawn } = pageToMarks({ number: 1, width, height: HEIGHT, marks }, () => '');
  return { svg: drawn.join(''), points };
};

/** The values that the chart keeps, as they are told apart. */
const keptIn = ({ only }: Sketch, { field }: ShownChart['along']): ReadonlySet<string> | null => {
  const condition = only.find((c) => c.fromChart && 'field' in c && c.field === field);
  if (!condition || !('field' in condition)) return null;
  const values =
    condition.to && 'values' in condition.to ? condition.to.values.map((value) => JSON.stringify(value)) : [];
  return new Set([...values, ...(condition.orBlank || condition.is === 'blank' ? ['null'] : [])]);
};

const Drawn = ({ drawn: { svg, points }, shown, width }: { drawn: DrawnChart; shown: ShownChart; width: number }) => {
  const { t } = useTranslation();
  const { sketch, change } = useParts();
  const picture = useRef<SVGSVGElement>(null);
  const [drag, setDrag] = useState<{ x: number; y: number; toX: number; toY: number } | null>(null);
  const kept = keptIn(sketch, shown.along);
  const isLying = shown.type === 'bar';
  const keptCells =
    kept && points.flatMap(({ along }, i) => (kept.has(JSON.stringify(along)) ? [`[data-cell="${i}"]`] : []));
  const style = keptCells
    ? `.sketch-chart [data-cell]{opacity:.28}${keptCells.length > 0 ? `.sketch-chart :is(${keptCells.join(',')}){opacity:1}` : ''}`
    : '';
  const place = (event: PointerEvent): { x: number; y: number } => {
    const { left, top } = picture.current!.getBoundingClientRect();
    return { x: event.clientX - left, y: event.clientY - top };
  };
  const keep = (cells: readonly number[], isAdding: boolean): void => {
    const values = new Map(
      cells.flatMap((i) => (points[i] ? [[JSON.stringify(points[i].along), points[i].along]] : [])),
    );
    const before = [...(kept ?? [])];
    // Pressing the only one that is kept gives all of them back.
    const isSame = !isAdding && before.length === values.size && before.every((key) => values.has(key));
    const next = isSame ? [] : [...(isAdding ? before.map((key) => JSON.parse(key)) : []), ...values.values()];
    change(
      keptFromChart(sketch, shown.along, [
        ...new Map(next.map((value) => [JSON.stringify(value), value])).values(),
      ] as string[]),
    );
  };
  const touched = (from: number, to: number): number[] => {
    const { left, top } = picture.current!.getBoundingClientRect();
    return [...picture.current!.querySelectorAll('[data-cell]')].flatMap((element) => {
      const own = element.getBoundingClientRect();
      const [start, end] = isLying ? [own.top - top, own.bottom - top] : [own.left - left, own.right - left];
      return end >= from && start <= to ? [Number(element.getAttribute('data-cell'))] : [];
    });
  };
  const [from, to] = drag ? (isLying ? [drag.y, drag.toY] : [drag.x, drag.toX]).sort((a, b) => a - b) : [0, 0];
  return (
    <>
      {style !== '' && <style>{style}</style>}
      <svg
        ref={picture}
        role="img"
        aria-label={t('sketch.chart')}
        viewBox={`0 0 ${width} ${HEIGHT}`}
        width={width}
        height={HEIGHT}
        className="sketch-chart block touch-none select-none cursor-crosshair"
        onPointerDown={(event) => {
          if (event.button !== 0) return;
          event.currentTarget.setPointerCapture(event.pointerId);
          const { x, y } = place(event);
          setDrag({ x, y, toX: x, toY: y });
        }}
        onPointerMove={(event) => {
          if (!drag) return;
          const { x, y } = place(event);
          setDrag({ ...drag, toX: x, toY: y });
        }}
        onPointerCancel={() => setDrag(null)}
        onPointerUp={(event) => {
          if (!drag) return;
          setDrag(null);
          if (to! - from! >= STEADY) {
            const cells = touched(from!, to!);
            if (cells.length > 0) keep(cells, event.shiftKey);
            return;
          }
          const under = document
            .elementsFromPoint(event.clientX, event.clientY)
            .map((element) => element.closest('[data-cell]')?.getAttribute('data-cell'))
            .find((cell) => cell != null);
          if (under != null) keep([Number(under)], event.shiftKey || event.ctrlKey || event.metaKey);
          else if (kept) change(keptFromChart(sketch, shown.along, []));
        }}
      >
        {/* biome-ignore lint/security/noDangerouslySetInnerHtml: marks of the engine, whose texts are escaped */}
        <g dangerouslySetInnerHTML={{ __html: svg }} />
        {drag && to! - from! >= STEADY && (
          <rect
            {...(isLying
              ? { x: 0, width, y: from, height: to! - from! }
              : { x: from, width: to! - from!, y: 0, height: HEIGHT })}
            fill="#1f5c4d"
            fillOpacity={0.12}
            stroke="#1f5c4d"
          />
        )}
      </svg>
    </>
  );
};

/** What a chart could go along, where nothing is grouped yet. */
const Suggestions = () => {
  const { t, i18n } = useTranslation();
  const { sketch, change, reach } = useParts();
  const [own] = reach;
  const fields = own?.fields.filter(({ hidden }) => !hidden) ?? [];
  const dates = fields.filter(({ type }) => type === 'date' || type === 'datetime');
  const others = fields.filter(({ type, choices }) => type === 'boolean' || choices !== undefined);
  const near = reach.filter(
    ({ way, isMany, fields: there }) =>
      way.length > 0 && way.length < 3 && !isMany && there.some(({ name }) => name === 'name'),
  );
  const offered = [
    ...[...dates, ...others].slice(0, 4).map((field) => ({ path: field.name, label: field.label })),
    ...near.slice(0, 3).map(({ way, label }) => ({ path: [...way, 'name'].join('.'), label })),
  ];
  return (
    <div className="flex flex-wrap items-center gap-1.5 px-3 pb-3">
      <span className="text-ink-2">{t('sketch.chartNeeds')}</span>
      {offered.map(({ path, label }) => (
        <Button key={path} look="chip" onClick={() => change(withGroup(sketch, path, reach, t('sketch.rowCount')))}>
          {t('sketch.forEachOne', { of: inSentence(label, i18n.language) })}
        </Button>
      ))}
    </div>
  );
};

/** The kind of the chart, and what it shows. */
const ChartSettings = ({ shown }: { shown: ShownChart }) => {
  const { t } = useTranslation();
  const { sketch, change, reach } = useParts();
  const put = (more: SketchChart): void => change(changedChart(sketch, more));
  const measured = sketch.columns.filter((column) => isMeasured(column) && !column.hidden);
  const types = CHART_TYPES.filter(
    (type: ChartType) => !CHART_KINDS[type].isSpread && CHART_KINDS[type].roles.length <= measured.length,
  );
  const groups = groupsOf(sketch).map((group) => ({ value: group.name, label: groupLabel(group, reach) }));
  const chosen = shown.measures.map(({ name }) => name);
  return (
    <Popover.Root>
      <Popover.Trigger asChild>
        <Button look="quiet" className="px-2">
          <Settings2 size={14} aria-hidden /> {t(`chart.type_${shown.type}`)}
        </Button>
      </Popover.Trigger>
      <Panel label={t('sketch.chartSettings')} align="end" className="w-72 overflow-auto p-3">
        <div className="flex flex-col gap-2">
          <Line label={t('sketch.chartKind')}>
            <Select
              label={t('sketch.chartKind')}
              value={shown.type}
              choices={types.map((type) => ({ value: type, label: t(`chart.type_${type}`) }))}
              onPick={(type) => put({ type })}
            />
          </Line>
          <Line label={t('sketch.chartAlong')}>
            <Select
              label={t('sketch.chartAlong')}
              value={shown.along.name}
              choices={groups}
              onPick={(along) => put({ along, split: undefined })}
            />
          </Line>
          {groups.length > 1 && CHART_KINDS[shown.type].takes.split && (
            <Line label={t('sketch.chartColours')}>
              <Select
                label={t('sketch.chartColours')}
                value={shown.split?.name ?? 'none'}
                choices={[
                  { value: 'none', label: t('sketch.chartOneColour') },
                  ...groups.filter(({ value }) => value !== shown.along.name),
                ]}
                onPick={(split) => put({ split: split === 'none' ? null : split })}
              />
            </Line>
          )}
          <fieldset aria-label={t('sketch.chartMeasures')} className="border-t border-rule-soft pt-1.5">
            {measured.map((column) => (
              <Check
                key={column.name}
                label={columnLabel(column, reach)}
                checked={chosen.includes(column.name)}
                onChange={(on) => {
                  const next = measured.flatMap(({ name }) =>
                    (name === column.name ? on : chosen.includes(name)) ? [name] : [],
                  );
                  if (next.length > 0) put({ measures: next.slice(0, 6) });
                }}
              />
            ))}
          </fieldset>
        </div>
      </Panel>
    </Popover.Root>
  );
};
