import { GAUGE_TYPES, type GaugePart, type GaugeType, type ItemOf } from '@gaveta/core/internal';
import { Gauge } from 'lucide-react';
import type { ReactNode } from 'react';
import { useTranslation } from '../../../i18n/use-translation.ts';
import { ColorBox } from '../../../ui/color-box.tsx';
import { CommitBox, NumberBox } from '../../../ui/commit.tsx';
import { Select } from '../../../ui/select.tsx';
import { FormulaBox } from '../../formula/formula-box.tsx';
import type { Chosen } from '../../settings/item-context.ts';
import { ItemType } from '../../settings/item-type.tsx';
import { Section, Setting } from '../../settings/setting.tsx';
import { FigureBoard } from '../groups/figure-board.tsx';
import { type FieldPart, PartTags } from '../groups/part-tags.tsx';
import { RowsOf } from '../groups/rows-of.tsx';
import { useGrouping } from '../groups/use-grouping.ts';
import { formulaWords } from '../groups/words.ts';
import { ZoneList } from '../groups/zone-list.tsx';
import type { BoardProps, ItemRoom } from '../room.ts';

type GaugeItem = ItemOf<'gauge'>;

const A = 'var(--color-pine)';
const B = 'var(--color-brass)';
const C = 'var(--color-rule)';

/** What a kind looks like. */
const PICTURES: Readonly<Record<GaugeType, ReactNode>> = {
  dial: (
    <>
      <path d="M9 16A8 8 0 1 1 21 16" fill="none" stroke={C} strokeWidth={3} />
      <path d="M9 16A8 8 0 0 1 11 4" fill="none" stroke={A} strokeWidth={3} />
      <path d="M15 11L19 6" stroke={B} strokeWidth={1.8} />
    </>
  ),
  half: (
    <>
      <path d="M6 15A9 9 0 0 1 24 15" fill="none" stroke={C} strokeWidth={3.4} />
      <path d="M6 15A9 9 0 0 1 13 6.2" fill="none" stroke={A} strokeWidth={3.4} />
      <path d="M15 15L20 8" stroke={B} strokeWidth={1.8} />
    </>
  ),
  scale: (
    <>
      <rect x={3} y={10} width={24} height={4} fill={C} />
      <rect x={3} y={10} width={9} height={4} fill={A} />
      <path d="M18 9L15.5 5H20.5Z" fill={B} />
    </>
  ),
  bullet: (
    <>
      <rect x={3} y={6} width={24} height={8} fill={C} />
      <rect x={3} y={8.5} width={15} height={3} fill={A} />
      <path d="M21 6.5V13.5" stroke={B} strokeWidth={2} />
    </>
  ),
  tank: (
    <>
      <rect x={10} y={3} width={10} height={15} fill="none" stroke={C} strokeWidth={1.5} />
      <rect x={10} y={9} width={10} height={9} fill={A} />
    </>
  ),
  figure: (
    <>
      <text x={3} y={14} fontSize={13} fontWeight={700} fill={A}>
        42
      </text>
      <path d="M22 7L26 13H18.5Z" fill={B} />
    </>
  ),
  bar: (
    <>
      <rect x={3} y={4} width={20} height={3.4} fill={A} />
      <rect x={3} y={9} width={13} height={3.4} fill={A} />
      <rect x={3} y={14} width={24} height={3.4} fill={B} />
    </>
  ),
};

const SHOWN = ['value', 'target', 'compare'] as const satisfies readonly GaugePart[];

/** Settings that are formulas, with the place where each stands. */
const useFormula = (item: GaugeItem, chosen: Chosen | null) => {
  const { t } = useTranslation();
  const hands = useGrouping(item);
  return (name: GaugePart, placeholder?: string) => (
    <FormulaBox
      label={t(`gauge.${name}`)}
      value={item[name] ?? ''}
      {...(placeholder ? { placeholder } : {})}
      address={item.rows || !chosen ? hands.placeOf(name, [], (formula) => ({ [name]: formula })) : chosen.address}
      onCommit={(formula) =>
        hands.set(t(`gauge.${name}`), {
          [name]: formula.trim() !== '' ? formula : name === 'value' ? '' : null,
        })
      }
    />
  );
};

const Choices = ({ item, name }: { item: GaugeItem; name: GaugePart }) => {
  const { t } = useTranslation();
  const formula = useFormula(item, null);
  return (
    <Setting label={t(`gauge.${name}`)} wide>
      {formula(name)}
    </Setting>
  );
};

const isFilledIn = ({ value }: GaugeItem): boolean => value.trim() !== '';

const useParts = (item: GaugeItem): FieldPart[] => {
  const { t } = useTranslation();
  const isFilled = isFilledIn(item);
  const { fields } = useGrouping(item);
  return SHOWN.filter((name) => name === 'value' || isFilled).map((name): FieldPart => {
    const formula = item[name] ?? '';
    return {
      part: name,
      words: t(`gauge.part_${name}`),
      prompt: t(`gauge.drop_${name}`),
      says: formula.trim() === '' ? null : formulaWords(t, fields, formula),
      isCounted: name === 'value',
      choices: <Choices item={item} name={name} />,
    };
  });
};

/** On the board: the gauge as the live page draws it, with its parts on its edge. */
const Board = ({ item }: BoardProps<'gauge'>) => {
  const isFilled = isFilledIn(item);
  return <FigureBoard item={item.id} icon={Gauge} parts={useParts(item)} isFilled={isFilled} isComplete={isFilled} />;
};

const Content = ({ item, chosen }: { item: GaugeItem; chosen: Chosen }) => {
  const { t } = useTranslation();
  const hands = useGrouping(item);
  const { set } = hands;
  const formula = useFormula(item, chosen);
  const words = (key: 'title' | 'unit' | 'format' | 'compareCaption') => (
    <Setting label={t(`gauge.${key}`)}>
      <CommitBox
        label={t(`gauge.${key}`)}
        mono={key === 'format'}
        value={item[key] ?? ''}
        onCommit={(next) => set(t(`gauge.${key}`), { [key]: next.trim() === '' ? null : next })}
      />
    </Setting>
  );
  return (
    <>
      <Section title={t('chart.kind')} section="kind">
        <div role="radiogroup" aria-label={t('chart.kind')} className="grid grid-cols-5 gap-1">
          {GAUGE_TYPES.map((type) => (
            // biome-ignore lint/a11y/useSemanticElements: a radio that shows a picture
            <button
              key={type}
              type="button"
              role="radio"
              aria-checked={item.type === type}
              aria-label={t(`gauge.type_${type}`)}
              title={t(`gauge.type_${type}`)}
              data-type={type}
              className={`grid h-9 place-items-center rounded border ${item.type === type ? 'border-pine bg-pine-soft' : 'border-rule bg-paper hover:border-pine/50'}`}
              onClick={() => set(t('chart.kind'), { type })}
            >
              {/* biome-ignore lint/a11y/noSvgWithoutTitle: its button names it */}
              <svg viewBox="0 0 30 20" aria-hidden className="h-5 w-[30px]">
                {PICTURES[type]}
              </svg>
            </button>
          ))}
        </div>
      </Section>
      <Section title={t('designer.content')} section="content">
        <RowsOf hands={hands} cleared={{ value: '', target: null, compare: null, from: null, to: null } as never} />
        <Setting label={t('gauge.value')} wide>
          {formula('value', t('gauge.valueExample'))}
        </Setting>
        {words('title')}
        {words('unit')}
        {words('format')}
        <Setting label={t('gauge.target')} wide>
          {formula('target', t('gauge.none'))}
        </Setting>
        {item.type === 'figure' && (
          <>
            <Setting label={t('gauge.compare')} wide>
              {formula('compare', t('gauge.none'))}
            </Setting>
            {item.compare && words('compareCaption')}
            {item.compare && (
              <>
                <Setting label={t('gauge.compareAs')}>
                  <Select
                    label={t('gauge.compareAs')}
                    value={item.compareAs ?? 'share'}
                    choices={(['share', 'difference'] as const).map((value) => ({
                      value,
                      label: t(`gauge.as_${value}`),
                    }))}
                    onPick={(compareAs) =>
                      set(t('gauge.compareAs'), { compareAs: compareAs === 'share' ? null : compareAs })
                    }
                  />
                </Setting>
                <Setting label={t('gauge.good')}>
                  <Select
                    label={t('gauge.good')}
                    value={item.good ?? 'up'}
                    choices={(['up', 'down', 'neither'] as const).map((value) => ({
                      value,
                      label: t(`gauge.good_${value}`),
                    }))}
                    onPick={(good) => set(t('gauge.good'), { good: good === 'up' ? null : good })}
                  />
                </Setting>
              </>
            )}
          </>
        )}
      </Section>
    </>
  );
};

const Look = ({ chosen }: { chosen: Chosen }) => {
  const { t } = useTranslation();
  const [item] = chosen.items;
  return item?.kind === 'gauge' && chosen.items.length === 1 ? (
    <GaugeLook item={item} chosen={chosen} />
  ) : (
    <p className="text-ink-3">{t('chart.one')}</p>
  );
};

const GaugeLook = ({ item, chosen }: { item: GaugeItem; chosen: Chosen }) => {
  const { t } = useTranslation();
  const hands = useGrouping(item);
  const { set } = hands;
  const formula = useFormula(item, chosen);
  const count = (key: 'major' | 'minor', most: number) => (
    <Setting label={t(`gauge.${key}`)}>
      <NumberBox
        label={t(`gauge.${key}`)}
        unit=""
        value={item[key]}
        least={1}
        most={most}
        placeholder={t('crosstab.auto')}
        onCommit={(next) => set(t(`gauge.${key}`), { [key]: Math.round(next) })}
        onClear={() => set(t(`gauge.${key}`), { [key]: null })}
      />
    </Setting>
  );
  const hasScale = item.type !== 'figure';
  return (
    <>
      <Section
        title={t('designer.look')}
        section="look"
        more={
          hasScale &&
          item.type !== 'bar' && (
            <>
              {count('major', 50)}
              {count('minor', 10)}
            </>
          )
        }
      >
        {hasScale && <Setting label={t('chart.from')}>{formula('from', t('crosstab.auto'))}</Setting>}
        {hasScale && <Setting label={t('chart.to')}>{formula('to', t('crosstab.auto'))}</Setting>}
        <Setting label={t('designer.color')}>
          <ColorBox
            label={t('designer.color')}
            value={item.color}
            onPick={(color) => set(t('designer.color'), { color })}
            onClear={() => set(t('designer.color'), { color: null })}
          />
        </Setting>
        <ItemType hasBackground look={item.look ?? {}} onChange={(look) => set(t('designer.look'), { look })} />
      </Section>
      <ZoneList
        zones={item.zones ?? []}
        addressOf={(path, changed) =>
          item.rows ? hands.placeOf(path, [], (to) => ({ zones: changed(to) })) : chosen.address
        }
        onChange={(zones) => set(t('chart.zones'), { zones: zones.length > 0 ? zones : null })}
      />
    </>
  );
};

export const gaugeRoom: ItemRoom<'gauge'> = {
  Board,
  Tags: ({ item }) => <PartTags item={item.id} parts={useParts(item)} isFilled={false} />,
  Content,
  Look,
  add: { id: 'gauge', icon: Gauge },
};
