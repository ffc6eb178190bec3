import { type ItemOf, totalParts } from '@gaveta/core/internal';
import { useTranslation } from '../../../i18n/use-translation.ts';
import { ColorBox } from '../../../ui/color-box.tsx';
import { CommitBox } from '../../../ui/commit.tsx';
import { Select } from '../../../ui/select.tsx';
import { FormulaBox } from '../../formula/formula-box.tsx';
import { Section, Setting } from '../../settings/setting.tsx';
import { without } from '../groups/use-grouping.ts';
import { AddButton, ListedSetting } from '../groups/zone-list.tsx';
import type { ChartHands } from './use-chart.ts';

type Line = NonNullable<ItemOf<'chart'>['lines']>[number];

const LINE_COLOR = '#b3402e';
const DASHES = ['dashed', 'solid', 'dotted'] as const;

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
        <ListedSetting key={i} label={t('chart.removeLine')} onRemove={() => put(lines.filter((_, at) => at !== i))}>
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
        </ListedSetting>
      ))}
      <AddButton label={t('chart.addLine')} onAdd={() => put([...lines, usualLine(item)])} />
    </Section>
  );
};
