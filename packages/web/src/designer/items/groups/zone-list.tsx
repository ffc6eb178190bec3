import type { BandAddress } from '@gaveta/core/internal';
import { Plus, X } from 'lucide-react';
import type { ReactNode } from 'react';
import { useTranslation } from '../../../i18n/use-translation.ts';
import { ColorBox } from '../../../ui/color-box.tsx';
import { CommitBox } from '../../../ui/commit.tsx';
import { IconButton } from '../../../ui/controls.tsx';
import { FormulaBox, type FormulaPlace } from '../../formula/formula-box.tsx';
import { Section, Setting } from '../../settings/setting.tsx';
import { without } from './use-grouping.ts';

/** A coloured stretch of a scale. */
export interface ZoneSetting {
  from?: string | undefined;
  to?: string | undefined;
  caption?: string | undefined;
  color: string;
}

/** Colours of new zones, one after the other. */
const ZONE_COLORS = ['#2d7a5f', '#d9a441', '#b3402e'];

/** One of a list of settings, with a button that removes it. */
export const ListedSetting = ({
  label,
  onRemove,
  children,
}: {
  label: string;
  onRemove: () => void;
  children: ReactNode;
}) => (
  <div className="relative my-1 border-s-2 border-brass ps-1.5">
    <span className="absolute top-0.5 right-0 z-1">
      <IconButton label={label} onClick={onRemove}>
        <X size={13} />
      </IconButton>
    </span>
    {children}
  </div>
);

export const AddButton = ({ label, onAdd }: { label: string; onAdd: () => void }) => (
  <button type="button" className="flex items-center gap-1 rounded px-1 text-pine hover:bg-pine-soft" onClick={onAdd}>
    <Plus size={12} aria-hidden /> {label}
  </button>
);

interface Props<Z extends ZoneSetting> {
  zones: readonly Z[];
  /** Where the formula of an end stands. */
  addressOf: (path: string, changed: (formula: string) => Z[]) => BandAddress | FormulaPlace;
  onChange: (zones: Z[]) => void;
}

/** Coloured stretches of a scale: each has ends, words and a colour. */
export const ZoneList = <Z extends ZoneSetting>({ zones, addressOf, onChange }: Props<Z>) => {
  const { t } = useTranslation();
  const changed = (at: number, next: { [K in keyof ZoneSetting]?: ZoneSetting[K] | null }): Z[] =>
    zones.map((zone, i) => (i === at ? (without({ ...zone, ...next }) as Z) : zone));
  const last = zones.at(-1)?.to;
  return (
    <Section title={t('chart.zones')} section="zones">
      {zones.map((zone, i) => (
        <ListedSetting
          // biome-ignore lint/suspicious/noArrayIndexKey: told apart by their place
          key={i}
          label={t('chart.removeZone')}
          onRemove={() => onChange(zones.filter((_, at) => at !== i))}
        >
          {(['from', 'to'] as const).map((key) => (
            <Setting key={key} label={t(`chart.${key}`)}>
              <FormulaBox
                label={t(`chart.zone_${key}`)}
                value={zone[key] ?? ''}
                placeholder={t(`chart.open_${key}`)}
                address={addressOf(`zones/${i}/${key}`, (formula) => changed(i, { [key]: formula }))}
                onCommit={(formula) => onChange(changed(i, { [key]: formula.trim() === '' ? null : formula }))}
              />
            </Setting>
          ))}
          <Setting label={t('crosstab.caption')}>
            <span className="flex items-center gap-1">
              <CommitBox
                label={t('chart.zoneCaption')}
                value={zone.caption ?? ''}
                onCommit={(caption) => onChange(changed(i, { caption: caption.trim() === '' ? null : caption }))}
              />
              <ColorBox
                label={t('chart.zoneColor')}
                value={zone.color}
                onPick={(color) => onChange(changed(i, { color }))}
              />
            </span>
          </Setting>
        </ListedSetting>
      ))}
      <AddButton
        label={t('chart.addZone')}
        onAdd={() =>
          onChange([
            ...zones,
            // Each begins where the one before it ends.
            { ...(last ? { from: last } : {}), color: ZONE_COLORS[zones.length % ZONE_COLORS.length]! } as Z,
          ])
        }
      />
    </Section>
  );
};
