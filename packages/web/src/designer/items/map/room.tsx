import { fieldPartsOf, type ItemOf, type MapPart } from '@gaveta/core/internal';
import { MapPinned } from 'lucide-react';
import { useTranslation } from '../../../i18n/use-translation.ts';
import { ColorBox } from '../../../ui/color-box.tsx';
import { CommitBox, NumberBox } from '../../../ui/commit.tsx';
import { Pick } from '../../../ui/pick.tsx';
import { Select } from '../../../ui/select.tsx';
import { FormulaBox } from '../../formula/formula-box.tsx';
import type { Chosen } from '../../settings/item-context.ts';
import { ItemType } from '../../settings/item-type.tsx';
import { Section, Setting } from '../../settings/setting.tsx';
import { CaptionAndFormat } from '../groups/caption-and-format.tsx';
import { FigureBoard } from '../groups/figure-board.tsx';
import { GroupSettings } from '../groups/group-settings.tsx';
import { OnPress } from '../groups/on-press.tsx';
import { type FieldPart, PartTags } from '../groups/part-tags.tsx';
import { RowsOf } from '../groups/rows-of.tsx';
import { TotalSettings } from '../groups/total-settings.tsx';
import { useGrouping, without } from '../groups/use-grouping.ts';
import { formulaWords, groupWords, totalWords } from '../groups/words.ts';
import type { BoardProps, ItemRoom } from '../room.ts';

type MapItem = ItemOf<'map'>;

const LEGENDS = ['right', 'left', 'top', 'bottom', 'none'] as const;

/** The choices of one part. */
const Choices = ({ item, part }: { item: MapItem; part: MapPart }) => {
  const { t } = useTranslation();
  const { fields, set, placeOf } = useGrouping(item);
  const { along } = item;
  if (part === 'along')
    return along ? (
      <>
        <GroupSettings
          group={along}
          fields={fields}
          totals={item.measure ? [{ value: item.measure, label: totalWords(t, { formula: item.measure }) }] : []}
          placeOfBy={placeOf('along/by', [], (by) => ({ along: { ...along, by } }))}
          onChange={(next) => set(t('map.along'), { along: without({ ...along, ...next }) as typeof along })}
        />
        <CaptionAndFormat
          of={along}
          onChange={(next) => set(t('map.along'), { along: without({ ...along, ...next }) as typeof along })}
        />
      </>
    ) : null;
  if (part === 'measure')
    return (
      <>
        <TotalSettings
          of={{ formula: item.measure ?? '' }}
          fields={fields}
          place={placeOf('measure', along ? [along] : [], (measure) => ({ measure }))}
          onChange={({ formula, caption }) =>
            set(t('map.measure'), { measure: formula, ...(caption ? { caption } : {}) })
          }
        />
        <CaptionAndFormat of={item} onChange={(next) => set(t('map.measure'), next)} />
      </>
    );
  return (
    <Setting label={t(`map.${part}`)} wide>
      <FormulaBox
        label={t(`map.${part}`)}
        value={item[part] ?? ''}
        address={placeOf(part, [], (formula) => ({ [part]: formula }))}
        onCommit={(formula) => set(t(`map.${part}`), { [part]: formula.trim() === '' ? null : formula })}
      />
    </Setting>
  );
};

/** The parts that are shown: a shape, or two degrees. */
const partsOf = ({ shape, lon, lat }: MapItem): MapPart[] =>
  lon || lat
    ? ['along', 'lon', 'lat', 'measure']
    : shape
      ? ['along', 'shape', 'measure']
      : ['along', 'shape', 'measure'];

const useParts = (item: MapItem): FieldPart[] => {
  const { t } = useTranslation();
  const { fields } = useGrouping(item);
  return partsOf(item).map((part): FieldPart => {
    const formula = part === 'along' ? undefined : item[part];
    const says =
      part === 'along' ? item.along && groupWords(t, item.along) : formula && formulaWords(t, fields, formula);
    return {
      part,
      words: t(`map.part_${part}`),
      prompt: t(`map.drop_${part}`),
      says: says || null,
      isCounted: part === 'measure',
      choices: <Choices item={item} part={part} />,
    };
  });
};

/** On the board: the map as the live page draws it, with its parts on its edge. */
const Board = ({ item }: BoardProps<'map'>) => {
  const isFilled =
    item.along !== undefined && (item.shape !== undefined || (item.lon !== undefined && item.lat !== undefined));
  return (
    <FigureBoard
      item={item.id}
      icon={MapPinned}
      parts={useParts(item)}
      isFilled={isFilled}
      isComplete={isFilled && item.measure !== undefined}
    />
  );
};

const Content = ({ item }: { item: MapItem; chosen: Chosen }) => {
  const { t } = useTranslation();
  const hands = useGrouping(item);
  const { fields, set } = hands;
  const add = (part: MapPart) => (formula: string) => {
    const field = fields.find((one) => one.formula === formula);
    const settings = field && fieldPartsOf(item).withField(item, part, field);
    if (settings) set(t(`map.${part}`), settings as Partial<MapItem>);
  };
  const choices = fields.map(({ formula, label, of }) => ({ value: formula, label, note: of }));
  return (
    <Section title={t('designer.content')} section="content">
      <RowsOf hands={hands} cleared={{ along: null, shape: null, lon: null, lat: null, measure: null } as never} />
      {(['along', 'shape', 'lon', 'lat', 'measure'] as const).map((part) => {
        // Where there is a shape, degrees are not needed, and the other way round.
        if (item.shape ? part === 'lon' || part === 'lat' : part === 'shape' && (item.lon || item.lat)) return null;
        return (
          <div key={part} className="my-1.5" data-part-settings={part}>
            <h4 className="text-ink-2 first-letter:uppercase">{t(`map.part_${part}`)}</h4>
            {item[part] ? (
              <Choices item={item} part={part} />
            ) : (
              <Pick label={t(`map.${part}`)} choices={choices} onPick={add(part)} />
            )}
          </div>
        );
      })}
    </Section>
  );
};

const Look = ({ chosen }: { chosen: Chosen }) => {
  const [item] = chosen.items;
  return item?.kind === 'map' && chosen.items.length === 1 ? <MapLook item={item} /> : null;
};

const MapLook = ({ item }: { item: MapItem }) => {
  const { t } = useTranslation();
  const hands = useGrouping(item);
  const { set } = hands;
  const ramp = item.ramp ?? { from: '#dcebe3', to: '#1f5c4d' };
  return (
    <>
      <Section title={t('designer.look')} section="look">
        <Setting label={t('chart.title')}>
          <CommitBox
            label={t('chart.title')}
            value={item.title ?? ''}
            onCommit={(title) => set(t('chart.title'), { title: title.trim() === '' ? null : title })}
          />
        </Setting>
        <Setting label={t('map.shows')}>
          <Select
            label={t('map.shows')}
            value={item.shows ?? 'colors'}
            choices={(['colors', 'dots'] as const).map((value) => ({ value, label: t(`map.shows_${value}`) }))}
            onPick={(shows) => set(t('map.shows'), { shows: shows === 'colors' ? null : shows })}
          />
        </Setting>
        {item.shows !== 'dots' && (
          <Setting label={t('map.steps')}>
            <NumberBox
              label={t('map.steps')}
              unit=""
              value={item.steps ?? 5}
              least={1}
              most={12}
              onCommit={(steps) => set(t('map.steps'), { steps: Math.round(steps) })}
            />
          </Setting>
        )}
        {(['from', 'to'] as const).map((key) => (
          <Setting key={key} label={t(`chart.ramp_${key}`)}>
            <ColorBox
              label={t(`chart.ramp_${key}`)}
              value={ramp[key]}
              onPick={(color) => set(t('chart.colors'), { ramp: { ...ramp, [key]: color } })}
            />
          </Setting>
        ))}
        <Setting label={t('chart.labels')}>
          <Select
            label={t('chart.labels')}
            value={item.labels ?? 'none'}
            choices={(['none', 'name', 'value'] as const).map((value) => ({ value, label: t(`map.labels_${value}`) }))}
            onPick={(labels) => set(t('chart.labels'), { labels: labels === 'none' ? null : labels })}
          />
        </Setting>
        <Setting label={t('chart.legend')}>
          <Select
            label={t('chart.legend')}
            value={item.legend ?? 'right'}
            choices={LEGENDS.map((value) => ({ value, label: t(`chart.legend_${value}`) }))}
            onPick={(legend) => set(t('chart.legend'), { legend: legend === 'right' ? null : legend })}
          />
        </Setting>
        <ItemType hasBackground look={item.look ?? {}} onChange={(look) => set(t('designer.look'), { look })} />
      </Section>
      <OnPress
        item={item}
        addressOf={(path, next) =>
          hands.placeOf(path, item.along ? [item.along] : [], (formula) => ({ onPress: next(formula) }))
        }
        onChange={(onPress) => set(t('chart.onPress'), { onPress })}
      />
    </>
  );
};

export const mapRoom: ItemRoom<'map'> = {
  Board,
  Tags: ({ item }) => <PartTags item={item.id} parts={useParts(item)} isFilled={false} />,
  Content,
  Look,
  add: { id: 'map', icon: MapPinned },
};
