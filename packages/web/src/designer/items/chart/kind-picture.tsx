import type { ChartType } from '@gaveta/core/internal';
import type { ReactNode } from 'react';
import { useLiveView } from '../../design/context.ts';
import type { ChartItem } from './use-chart.ts';

const A = 'var(--color-pine)';
const B = 'var(--color-brass)';
const C = 'var(--color-rule)';

const bars = (list: readonly (readonly [x: number, y: number, width: number, height: number, color: string])[]) =>
  list.map(([x, y, width, height, fill]) => (
    <rect key={`${x} ${y}`} x={x} y={y} width={width} height={height} fill={fill} />
  ));

const dots = (list: readonly (readonly [x: number, y: number, r: number, color: string])[]) =>
  list.map(([x, y, r, fill]) => <circle key={`${x} ${y}`} cx={x} cy={y} r={r} fill={fill} />);

const line = (path: string, color: string) => <path d={path} fill="none" stroke={color} strokeWidth={1.6} />;

/** What a kind looks like, where there are no rows to draw it from. */
const PLAIN: Readonly<Record<ChartType, ReactNode>> = {
  column: bars([
    [2, 9, 5, 9, A],
    [9, 4, 5, 14, A],
    [16, 7, 5, 11, A],
    [23, 11, 5, 7, A],
  ]),
  bar: bars([
    [2, 2, 20, 4, A],
    [2, 8, 26, 4, A],
    [2, 14, 13, 4, A],
  ]),
  line: (
    <>
      {line('M2 14L9 7L17 11L28 3', A)}
      {line('M2 17L9 14L17 15L28 10', B)}
    </>
  ),
  area: (
    <>
      <path d="M2 18V10L10 5L18 8L28 3V18Z" fill={B} opacity={0.6} />
      <path d="M2 18V14L10 11L18 13L28 9V18Z" fill={A} opacity={0.85} />
    </>
  ),
  pie: (
    <>
      <circle cx={15} cy={10} r={8} fill={A} />
      <path d="M15 10V2A8 8 0 0 1 22 14Z" fill={B} />
    </>
  ),
  ring: (
    <>
      <circle cx={15} cy={10} r={6.2} fill="none" stroke={A} strokeWidth={3.6} />
      <path d="M15 3.8A6.2 6.2 0 0 1 20.3 13.2" fill="none" stroke={B} strokeWidth={3.6} />
    </>
  ),
  scatter: dots([
    [5, 14, 1.6, A],
    [10, 10, 1.6, A],
    [14, 12, 1.6, B],
    [18, 6, 1.6, A],
    [22, 8, 1.6, B],
    [26, 4, 1.6, A],
  ]),
  bubble: dots([
    [8, 12, 4.5, A],
    [18, 7, 3, B],
    [25, 13, 2, A],
  ]),
  heat: bars([
    [2, 2, 8, 5, C],
    [11, 2, 8, 5, A],
    [20, 2, 8, 5, B],
    [2, 8, 8, 5, A],
    [11, 8, 8, 5, B],
    [20, 8, 8, 5, C],
    [2, 14, 8, 4, B],
    [11, 14, 8, 4, C],
    [20, 14, 8, 4, A],
  ]),
  box: (
    <>
      {line('M7 2V18M15 4V17M23 3V15', A)}
      {bars([
        [4, 6, 6, 7, A],
        [12, 8, 6, 6, B],
        [20, 5, 6, 6, A],
      ])}
    </>
  ),
  histogram: bars([
    [2, 14, 4, 4, A],
    [6.4, 9, 4, 9, A],
    [10.8, 3, 4, 15, A],
    [15.2, 5, 4, 13, A],
    [19.6, 11, 4, 7, A],
    [24, 15, 4, 3, A],
  ]),
  waterfall: bars([
    [2, 10, 5, 8, A],
    [8.5, 5, 5, 5, A],
    [15, 5, 5, 4, B],
    [21.5, 9, 5, 9, C],
  ]),
  range: (
    <>
      <path d="M2 8L10 4L18 7L28 2V11L18 15L10 12L2 16Z" fill={A} opacity={0.45} />
    </>
  ),
};

/** A kind of chart as a small picture, of the chart’s own rows where the live page has drawn it. */
export const KindPicture = ({ item, type }: { item: ChartItem; type: ChartType }) => {
  const drawn = useLiveView(({ kinds }) => kinds[item.id]?.[type]);
  if (drawn !== undefined)
    return (
      <span
        aria-hidden
        className="block h-[22px] w-[34px] [&>svg]:size-full"
        // biome-ignore lint/security/noDangerouslySetInnerHtml: marks that the live page drew, whose texts are escaped
        dangerouslySetInnerHTML={{ __html: drawn }}
      />
    );
  return (
    // biome-ignore lint/a11y/noSvgWithoutTitle: its button names it
    <svg viewBox="0 0 30 20" aria-hidden className="h-5 w-[30px]">
      {PLAIN[type]}
    </svg>
  );
};
