import { CHART_KINDS, type ItemOf } from '@gaveta/core/internal';
import { useTranslation } from '../../../i18n/use-translation.ts';
import { Check, CommitBox, NumberBox } from '../../../ui/commit.tsx';
import { Select } from '../../../ui/select.tsx';
import type { Chosen } from '../../settings/item-context.ts';
import { ItemType } from '../../settings/item-type.tsx';
import { Section, Setting } from '../../settings/setting.tsx';
import { OnPress } from '../groups/on-press.tsx';
import { ZoneList } from '../groups/zone-list.tsx';
import { AxisSettings } from './axis-settings.tsx';
import { ChartColors } from './colors.tsx';
import { LinesSettings } from './lines.tsx';
import { type ChartItem, useChart } from './use-chart.ts';

const STACKS = ['beside', 'stacked', 'full'] as const;
const CURVES = ['straight', 'steps', 'smooth'] as const;
const MISSING = ['gap', 'zero', 'across'] as const;
const LEGENDS = ['right', 'left', 'top', 'bottom', 'none'] as const;

/** How a chart looks: the few that matter first, then its axes, lines, colours and what a press does. */
export const ChartLook = ({ chosen }: { chosen: Chosen }) => {
  const [item] = chosen.items;
  return item?.kind === 'chart' && chosen.items.length === 1 ? <OneChart item={item} /> : null;
};

const labelsFor = (type: ChartItem['type']): readonly NonNullable<ItemOf<'chart'>['labels']>[] =>
  type === 'pie' || type === 'ring'
    ? ['none', 'value', 'share', 'name']
    : type === 'scatter' || type === 'bubble'
      ? ['none', 'value', 'name']
      : ['none', 'value'];

const OneChart = ({ item }: { item: ChartItem }) => {
  const { t } = useTranslation();
  const hands = useChart(item);
  const { set } = hands;
  const { type } = item;
  const { roles, isStretched } = CHART_KINDS[type];
  const isBars = type === 'column' || type === 'bar';
  const isRound = type === 'pie' || type === 'ring';
  const hasLines = type === 'line' || type === 'area' || type === 'range' || type === 'column';
  const words = (key: 'title' | 'empty' | 'totalCaption') => (
    <Setting label={t(`chart.${key}`)}>
      <CommitBox
        label={t(`chart.${key}`)}
        value={item[key] ?? ''}
        onCommit={(next) => set(t(`chart.${key}`), { [key]: next.trim() === '' ? null : next })}
      />
    </Setting>
  );
  const count = (key: 'panelColumns' | 'bins', most: number) => (
    <Setting label={t(`chart.${key}`)}>
      <NumberBox
        label={t(`chart.${key}`)}
        unit=""
        value={item[key]}
        least={1}
        most={most}
        placeholder={t('crosstab.auto')}
        onCommit={(next) => set(t(`chart.${key}`), { [key]: Math.round(next) })}
        onClear={() => set(t(`chart.${key}`), { [key]: null })}
      />
    </Setting>
  );
  const choice = <K extends 'stack' | 'curve' | 'missing' | 'legend' | 'labels'>(
    key: K,
    values: readonly NonNullable<ChartItem[K]>[],
    usual: NonNullable<ChartItem[K]>,
  ) => (
    <Setting label={t(`chart.${key}`)}>
      <Select
        label={t(`chart.${key}`)}
        value={(item[key] ?? usual) as string}
        choices={values.map((value) => ({ value: value as string, label: t(`chart.${key}_${value}` as never) }))}
        onPick={(value) => set(t(`chart.${key}`), { [key]: value === usual ? null : value })}
      />
    </Setting>
  );
  return (
    <>
      <Section
        title={t('designer.look')}
        section="look"
        more={
          <>
            {hasLines && choice('curve', CURVES, 'straight')}
            {hasLines && choice('missing', MISSING, 'gap')}
            {hasLines && (
              <Check
                label={t('chart.symbols')}
                checked={item.symbols ?? true}
                onChange={(on) => set(t('chart.symbols'), { symbols: on ? null : false })}
              />
            )}
            <Check
              label={t('chart.patterns')}
              checked={item.patterns ?? false}
              onChange={(on) => set(t('chart.patterns'), { patterns: on || null })}
            />
            {item.panels && count('panelColumns', 20)}
            {words('empty')}
          </>
        }
      >
        {words('title')}
        {(isBars || type === 'area' || type === 'line') && choice('stack', STACKS, 'beside')}
        {choice('legend', LEGENDS, 'right')}
        {type !== 'box' && type !== 'histogram' && type !== 'range' && choice('labels', labelsFor(type), 'none')}
        {type === 'histogram' && count('bins', 200)}
        {type === 'waterfall' && words('totalCaption')}
        <ItemType hasBackground look={item.look ?? {}} onChange={(look) => set(t('designer.look'), { look })} />
      </Section>
      {!isRound && (
        <>
          <AxisSettings hands={hands} name="axis" isAlong hasKind={isStretched ?? false} />
          {type !== 'heat' && <AxisSettings hands={hands} name="scale" />}
          {item.measures.some(({ second }) => second) && roles[0] === 'value' && (
            <AxisSettings hands={hands} name="secondScale" />
          )}
          {type !== 'heat' && <LinesSettings hands={hands} />}
          {type !== 'heat' && (
            <ZoneList
              zones={item.zones ?? []}
              addressOf={(path, changed) =>
                hands.placeOf(path, hands.groups, (formula) => ({ zones: changed(formula) }))
              }
              onChange={(zones) => set(t('chart.zones'), { zones: zones.length > 0 ? zones : null })}
            />
          )}
        </>
      )}
      <ChartColors hands={hands} />
      <OnPress
        item={item}
        addressOf={(path, next) => hands.placeOf(path, hands.groups, (formula) => ({ onPress: next(formula) }))}
        onChange={(onPress) => set(t('chart.onPress'), { onPress })}
      />
    </>
  );
};
