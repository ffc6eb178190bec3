import { CHART_PALETTES, type ItemOf } from '@gaveta/core/internal';
import { Plus, X } from 'lucide-react';
import { useTranslation } from '../../../i18n/use-translation.ts';
import { ColorBox } from '../../../ui/color-box.tsx';
import { CommitBox } from '../../../ui/commit.tsx';
import { IconButton } from '../../../ui/controls.tsx';
import { Section, Setting } from '../../settings/setting.tsx';
import type { ChartHands } from './use-chart.ts';

type LabelColor = NonNullable<ItemOf<'chart'>['colors']>[number];

/** Colours of a chart: a palette, or those of single values. */
export const ChartColors = ({ hands }: { hands: ChartHands }) => {
  const { t } = useTranslation();
  const { item, set } = hands;
  const colors = item.colors ?? [];
  const put = (next: LabelColor[]): void => set(t('chart.colors'), { colors: next.length > 0 ? next : null });
  if (item.type === 'heat') {
    const ramp = item.ramp ?? { from: '#eef3ef', to: '#1f5c4d' };
    return (
      <Section title={t('chart.colors')} section="colors">
        {(['from', 'to'] as const).map((key) => (
          <Setting key={key} label={t(`chart.ramp_${key}`)}>
            <ColorBox
              label={t(`chart.ramp_${key}`)}
              value={ramp[key]}
              onPick={(color) => set(t('chart.colors'), { ramp: { ...ramp, [key]: color } })}
            />
          </Setting>
        ))}
      </Section>
    );
  }
  const isChosen = (palette: readonly string[]): boolean =>
    item.palette ? String(item.palette) === String(palette) : palette === CHART_PALETTES[0]!.colors;
  return (
    <Section title={t('chart.colors')} section="colors">
      <div role="radiogroup" aria-label={t('chart.palette')} className="grid gap-1">
        {CHART_PALETTES.map(({ name, colors: palette }) => (
          // biome-ignore lint/a11y/useSemanticElements: a radio that shows colours
          <button
            key={name}
            type="button"
            role="radio"
            aria-checked={isChosen(palette)}
            aria-label={t(`chart.palette_${name}`)}
            title={t(`chart.palette_${name}`)}
            className={`flex h-5 overflow-hidden rounded border ${isChosen(palette) ? 'border-pine outline outline-pine' : 'border-rule'}`}
            onClick={() =>
              set(t('chart.palette'), { palette: palette === CHART_PALETTES[0]!.colors ? null : [...palette] })
            }
          >
            {palette.map((color) => (
              <span key={color} className="h-full flex-1" style={{ background: color }} />
            ))}
          </button>
        ))}
      </div>
      {colors.map(({ label, color }, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: told apart by their place
        <div key={i} className="mt-1 flex items-center gap-1">
          <CommitBox
            label={t('chart.colorOf')}
            value={label}
            onCommit={(next) => put(colors.map((one, at) => (at === i ? { ...one, label: next } : one)))}
          />
          <ColorBox
            label={t('designer.color')}
            value={color}
            onPick={(next) => put(colors.map((one, at) => (at === i ? { ...one, color: next } : one)))}
          />
          <IconButton label={t('chart.removeColor')} onClick={() => put(colors.filter((_, at) => at !== i))}>
            <X size={13} />
          </IconButton>
        </div>
      ))}
      <button
        type="button"
        className="mt-1 flex items-center gap-1 rounded px-1 text-pine hover:bg-pine-soft"
        onClick={() => put([...colors, { label: '', color: '#b98524' }])}
      >
        <Plus size={12} aria-hidden /> {t('chart.addColor')}
      </button>
    </Section>
  );
};
