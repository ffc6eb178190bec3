import { changedSketch, type Sketch } from '@gaveta/core/internal';
import { Palette } from 'lucide-react';
import { Popover } from 'radix-ui';
import { useThemes } from '../api/use-themes.ts';
import { themeLabel } from '../i18n/theme-label.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { Check } from '../ui/commit.tsx';
import { IconButton, Line } from '../ui/controls.tsx';
import { Panel } from '../ui/panel.tsx';
import { Select } from '../ui/select.tsx';
import { useParts } from './parts.ts';

/** How a sketch looks, and whether its rows are fetched by themselves. */
export const LookMenu = () => {
  const { t } = useTranslation();
  const { sketch, change } = useParts();
  const { all } = useThemes();
  const set = (more: Partial<Sketch>): void => change(changedSketch(sketch, more));
  return (
    <Popover.Root>
      <Popover.Trigger asChild>
        <IconButton label={t('sketch.look')}>
          <Palette size={16} />
        </IconButton>
      </Popover.Trigger>
      <Panel label={t('sketch.look')} align="end" className="w-72 p-3">
        <div className="flex flex-col gap-1.5">
          <Line label={t('sketch.theme')}>
            <Select
              label={t('sketch.theme')}
              value={sketch.theme ?? all[0]?.name}
              choices={all.map((theme) => ({ value: theme.name, label: themeLabel(t, theme) }))}
              onPick={(theme) => set({ theme })}
            />
          </Line>
          <Check
            label={t('sketch.stripes')}
            checked={sketch.stripes === true}
            onChange={(on) => set({ stripes: on ? true : undefined })}
          />
          <Check
            label={t('sketch.liveRows')}
            checked={!sketch.onRequest}
            onChange={(on) => set({ onRequest: on ? undefined : true })}
          />
          <p className="text-[11.5px] text-ink-3">{t('sketch.liveHelp')}</p>
        </div>
      </Panel>
    </Popover.Root>
  );
};
