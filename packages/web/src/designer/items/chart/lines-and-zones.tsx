import { type ItemOf, totalParts } from '@gaveta/core/internal';
import { Plus, X } from 'lucide-react';
import type { ReactNode } from 'react';
import { useTranslation } from 'react-i18next';
import { ColorBox } from '../../../ui/color-box.tsx';
import { CommitBox } from '../../../ui/commit.tsx';
import { IconButton } from '../../../ui/controls.tsx';
import { Select } from '../../../ui/select.tsx';
import { FormulaBox } from '../../formula/formula-box.tsx';
import { Section, Setting } from '../../settings/setting.tsx';
import { without } from '../groups/use-grouping.ts';
import type { ChartHands } from './use-chart.ts';

type Line = NonNullable<ItemOf<'chart'>['lines']>[number];
type Zone = NonNullable<ItemOf<'chart'>['zones']>[number];

const LINE_COLOR = '#b3402e';
/** Colours of new zones, one after the other. */
const ZONE_COLORS = ['#2d7a5f', '#d9a441', '#b3402e'];
const DASHES = ['dashed', 'solid', 'dotted'] as const;

const Row = ({ label, onRemove, children }: { label: string; onRemove: () => void; children: ReactNode }) => (
  <div className="relative my-1 border-l-2 border-brass pl-1.5">
    <span className="absolute top-0.5 right-0 z-1">
      <IconButton label={label} onClick={onRemove}>
        <X size={13} />
      </IconButton>
    </span>
    {children}
  </div>
);

const Add = ({ label, onAdd }: { label: string; onAdd: () => void }) => (
  <button type="button" className="flex items-center gap-1 rounded px-1 text-pine hover:bg-pine-soft" onClick={onAdd}>
    <Plus size={12} aria-hidden /> {label}
  </button>
);

/** What a new line begins with: the average of what is measured. */
const usualLine = ({ measures }: ItemOf<'chart'>): Line => {
  const of = totalParts(measures[0]?.formula ?? '')?.of;
  return { at: of ? `AVERAGE(${of})` : '0', color: LINE_COLOR };
};

/** Lines drawn across a chart, as a limit. */
export const LinesSettings = ({ hands }: { hands: ChartHands }) => {
  const { t } = useTranslation();
  const { item, groups, set, placeOf } = hands;
  const lines = item.lines ?? [];
  const put = (next: Line[]): void => set(t('chart.lines'), { lines: next.length > 0 ? next : null });
  const changed = (at: number, next: { [K in keyof Line]?: Line[K] | null }): Line[] =>
    lines.map((line, i) => (i === at ? (without({ ...line, ...next }) as Line) : line));
  return (
    <Section title={t('chart.lines')} section="lines">
      {lines.map((line, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: told apart by their place
        <Row key={i} label={t('chart.removeLine')} onRemove={() => put(lines.filter((_, at) => at !== i))}>
          <Setting label={t('chart.lineAt')} wide>
            <FormulaBox
              label={t('chart.lineAt')}
              value={line.at}
              address={placeOf(`lines/${i}/at`, groups, (at) => ({ lines: changed(i, { at }) }))}
              onCommit={(at) => at.trim() !== '' && put(changed(i, { at }))}
            />
          </Setting>
          <Setting label={t('crosstab.caption')}>
            <CommitBox
              label={t('chart.lineCaption')}
              value={line.caption ?? ''}
              onCommit={(caption) => put(changed(i, { caption: caption.trim() === '' ? null : caption }))}
            />
          </Setting>
          <Setting label={t('chart.dash')}>
            <span className="flex items-center gap-1">
              <Select
                label={t('chart.dash')}
                value={line.dash ?? 'dashed'}
                choices={DASHES.map((value) => ({ value, label: t(`chart.dash_${value}`) }))}
                onPick={(dash) => put(changed(i, { dash: dash === 'dashed' ? null : dash }))}
                className="min-w-0 flex-1"
              />
              <ColorBox
                label={t('chart.lineColor')}
                value={line.color}
                onPick={(color) => put(changed(i, { color }))}
              />
            </span>
          </Setting>
        </Row>
      ))}
      <Add label={t('chart.addLine')} onAdd={() => put([...lines, usualLine(item)])} />
    </Section>
  );
};

/** Coloured stretches of the scale. */
export const ZonesSettings = ({ hands }: { hands: ChartHands }) => {
  const { t } = useTranslation();
  const { item, groups, set, placeOf } = hands;
  const zones = item.zones ?? [];
  const put = (next: Zone[]): void => set(t('chart.zones'), { zones: next.length > 0 ? next : null });
  const changed = (at: number, next: { [K in keyof Zone]?: Zone[K] | null }): Zone[] =>
    zones.map((zone, i) => (i === at ? (without({ ...zone, ...next }) as Zone) : zone));
  return (
    <Section title={t('chart.zones')} section="zones">
      {zones.map((zone, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: told apart by their place
        <Row key={i} label={t('chart.removeZone')} onRemove={() => put(zones.filter((_, at) => at !== i))}>
          {(['from', 'to'] as const).map((key) => (
            <Setting key={key} label={t(`chart.${key}`)}>
              <FormulaBox
                label={t(`chart.zone_${key}`)}
                value={zone[key] ?? ''}
                placeholder={t(`chart.open_${key}`)}
                address={placeOf(`zones/${i}/${key}`, groups, (formula) => ({ zones: changed(i, { [key]: formula }) }))}
                onCommit={(formula) => put(changed(i, { [key]: formula.trim() === '' ? null : formula }))}
              />
            </Setting>
          ))}
          <Setting label={t('crosstab.caption')}>
            <span className="flex items-center gap-1">
              <CommitBox
                label={t('chart.zoneCaption')}
                value={zone.caption ?? ''}
                onCommit={(caption) => put(changed(i, { caption: caption.trim() === '' ? null : caption }))}
              />
              <ColorBox
                label={t('chart.zoneColor')}
                value={zone.color}
                onPick={(color) => put(changed(i, { color }))}
              />
            </span>
          </Setting>
        </Row>
      ))}
      <Add
        label={t('chart.addZone')}
        onAdd={() =>
          put([
            ...zones,
            {
              // Each begins where the one before it ends.
              ...(zones.at(-1)?.to ? { from: zones.at(-1)!.to! } : {}),
              color: ZONE_COLORS[zones.length % ZONE_COLORS.length]!,
            },
          ])
        }
      />
    </Section>
  );
};
