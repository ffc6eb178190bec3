import { fieldPartsOf, type ItemOf } from '@gaveta/core/internal';
import { Activity } from 'lucide-react';
import { useTranslation } from '../../../i18n/use-translation.ts';
import { ColorBox } from '../../../ui/color-box.tsx';
import { Pick } from '../../../ui/pick.tsx';
import { Select } from '../../../ui/select.tsx';
import { FormulaBox } from '../../formula/formula-box.tsx';
import type { Chosen } from '../../settings/item-context.ts';
import { Section, Setting } from '../../settings/setting.tsx';
import { FigureBoard } from '../groups/figure-board.tsx';
import { GroupSettings } from '../groups/group-settings.tsx';
import { type FieldPart, PartTags } from '../groups/part-tags.tsx';
import { RowsOf } from '../groups/rows-of.tsx';
import { TotalSettings } from '../groups/total-settings.tsx';
import { useGrouping, without } from '../groups/use-grouping.ts';
import { formulaWords, groupWords } from '../groups/words.ts';
import type { BoardProps, ItemRoom } from '../room.ts';

type SparklineItem = ItemOf<'sparkline'>;

const TYPES = ['line', 'area', 'column'] as const;
const MARKS = ['last', 'ends', 'extremes', 'none'] as const;

const Along = ({ item }: { item: SparklineItem }) => {
  const { t } = useTranslation();
  const { fields, set, placeOf } = useGrouping(item);
  const { along } = item;
  if (!along) return null;
  return (
    <GroupSettings
      group={along}
      fields={fields}
      totals={[]}
      placeOfBy={placeOf('along/by', [], (by) => ({ along: { ...along, by } }))}
      onChange={(next) => set(t('chart.along'), { along: without({ ...along, ...next }) as typeof along })}
    />
  );
};

const Measure = ({ item }: { item: SparklineItem }) => {
  const { t } = useTranslation();
  const { fields, set, placeOf } = useGrouping(item);
  return (
    <TotalSettings
      of={{ formula: item.measure }}
      fields={fields}
      place={placeOf('measures/0', item.along ? [item.along] : [], (measure) => ({ measure }))}
      onChange={({ formula }) => set(t('chart.value'), { measure: formula })}
    />
  );
};

const isFilledIn = ({ measure }: SparklineItem): boolean => measure.trim() !== '';

const useParts = (item: SparklineItem): FieldPart[] => {
  const { t } = useTranslation();
  const { fields } = useGrouping(item);
  const isFilled = isFilledIn(item);
  return [
    {
      part: 'measure',
      words: t('chart.part_value'),
      prompt: t('chart.drop_value'),
      says: isFilled ? formulaWords(t, fields, item.measure) : null,
      isCounted: true,
      choices: <Measure item={item} />,
    },
    {
      part: 'along',
      words: t('chart.part_along'),
      prompt: t('chart.drop_along'),
      says: item.along ? groupWords(t, item.along) : null,
      isCounted: false,
      choices: <Along item={item} />,
    },
  ];
};

/** On the board: the line as the live page draws it, with its parts on its edge. */
const Board = ({ item }: BoardProps<'sparkline'>) => {
  const isFilled = isFilledIn(item);
  return (
    <FigureBoard
      item={item.id}
      icon={Activity}
      parts={useParts(item)}
      isFilled={isFilled}
      isComplete={isFilled && item.along !== undefined}
    />
  );
};

const Content = ({ item }: { item: SparklineItem; chosen: Chosen }) => {
  const { t } = useTranslation();
  const hands = useGrouping(item);
  const { fields, set } = hands;
  const add = (part: string) => (formula: string) => {
    const field = fields.find((one) => one.formula === formula);
    const settings = field && fieldPartsOf(item).withField(item, part, field);
    if (settings) set(t('chart.value'), settings as Partial<SparklineItem>);
  };
  const choices = fields.map(({ formula, label, of }) => ({ value: formula, label, note: of }));
  return (
    <Section title={t('designer.content')} section="content">
      <RowsOf hands={hands} cleared={{ along: null, measure: '' } as never} />
      <h4 className="text-ink-2 first-letter:uppercase">{t('chart.part_value')}</h4>
      {item.measure.trim() === '' ? (
        <Pick label={t('chart.add_value')} choices={choices} onPick={add('measure')} />
      ) : (
        <Measure item={item} />
      )}
      <h4 className="text-ink-2 first-letter:uppercase">{t('chart.part_along')}</h4>
      {item.along ? (
        <Along item={item} />
      ) : (
        <Pick label={t('chart.add_along')} choices={choices} onPick={add('along')} />
      )}
    </Section>
  );
};

const Look = ({ chosen }: { chosen: Chosen }) => {
  const { t } = useTranslation();
  const [item] = chosen.items;
  if (item?.kind !== 'sparkline') return null;
  const end = (key: 'from' | 'to') => (
    <Setting label={t(`chart.${key}`)}>
      <FormulaBox
        label={t(`chart.${key}`)}
        value={item[key] ?? ''}
        placeholder={t('crosstab.auto')}
        address={chosen.address}
        onCommit={(formula) => chosen.set(t(`chart.${key}`), { [key]: formula.trim() === '' ? null : formula })}
      />
    </Setting>
  );
  return (
    <Section title={t('designer.look')} section="look">
      <Setting label={t('chart.kind')}>
        <Select
          label={t('chart.kind')}
          value={item.type}
          choices={TYPES.map((value) => ({ value, label: t(`chart.type_${value}`) }))}
          onPick={(type) => chosen.set(t('chart.kind'), { type })}
        />
      </Setting>
      <Setting label={t('sparkline.marks')}>
        <Select
          label={t('sparkline.marks')}
          value={item.marks ?? 'last'}
          choices={MARKS.map((value) => ({ value, label: t(`sparkline.marks_${value}`) }))}
          onPick={(marks) => chosen.set(t('sparkline.marks'), { marks: marks === 'last' ? null : marks })}
        />
      </Setting>
      <Setting label={t('designer.color')}>
        <ColorBox
          label={t('designer.color')}
          value={item.color}
          onPick={(color) => chosen.set(t('designer.color'), { color })}
          onClear={() => chosen.set(t('designer.color'), { color: null })}
        />
      </Setting>
      {end('from')}
      {end('to')}
    </Section>
  );
};

export const sparklineRoom: ItemRoom<'sparkline'> = {
  Board,
  Tags: ({ item }) => <PartTags item={item.id} parts={useParts(item)} isFilled={false} />,
  Content,
  Look,
  add: { id: 'sparkline', icon: Activity },
};
