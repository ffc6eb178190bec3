import { FURNITURE, type HouseTheme, houseThemeOf, PALETTE, type Report } from '@gaveta/core/internal';
import { useQuery } from '@tanstack/react-query';
import { Plus, X } from 'lucide-react';
import type { ReactNode } from 'react';
import { api } from '../api/client.ts';
import { libraryQueries } from '../api/library.ts';
import { useFamilies } from '../designer/settings/use-families.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { ColorBox } from '../ui/color-box.tsx';
import { Check, CommitBox, NumberBox } from '../ui/commit.tsx';
import { IconButton } from '../ui/controls.tsx';
import { Pick } from '../ui/pick.tsx';
import { Select } from '../ui/select.tsx';

interface ThemeFormProps {
  theme: HouseTheme;
  onChange: (theme: HouseTheme) => void;
  onError: (error: unknown) => void;
}

const MOST_COLOURS = 12;

/** A setting that is left out where it is undefined. */
const without = <T extends object>(settings: T, key: keyof T): T => {
  const { [key]: _, ...rest } = settings;
  return rest as T;
};

/** All that a theme decides on. */
export const ThemeForm = ({ theme, onChange, onError }: ThemeFormProps) => {
  const { t } = useTranslation();
  const families = useFamilies();
  const reports = useQuery(libraryQueries.ofKind('report'));
  const set = (changed: Partial<HouseTheme>): void => onChange({ ...theme, ...changed });
  const color = (key: 'accent' | 'ink' | 'quiet', label: string) => (
    <Line label={label}>
      <ColorBox label={label} value={theme[key]} onPick={(picked) => set({ [key]: picked })} />
    </Line>
  );
  const colorOrNone = (key: 'rule' | 'alternate' | 'captionBand', label: string) => (
    <Line label={label}>
      <ColorBox
        label={label}
        value={theme[key]}
        onPick={(picked) => set({ [key]: picked })}
        onClear={() => onChange(without(theme, key))}
      />
    </Line>
  );
  const palette = theme.palette ?? PALETTE;
  const choices = (reports.data?.things ?? []).map(({ id, name }) => ({ value: id, label: name }));
  /** Takes something from a report of the library. */
  const take = async (id: string, from: (report: Report) => HouseTheme): Promise<void> => {
    try {
      onChange(from((await api.report(id)).definition));
    } catch (error) {
      onError(error);
    }
  };
  const bands = FURNITURE.filter((band) => theme.furniture?.[band]);
  return (
    <div className="flex flex-col gap-4 p-4">
      <Line label={t('library.name')}>
        <CommitBox
          label={t('library.name')}
          value={theme.name}
          most={80}
          onCommit={(name) => name.trim() !== '' && set({ name: name.trim() })}
        />
      </Line>
      <Part title={t('house.fromReport')}>
        <p className="text-ink-2">{t('house.fromReportHelp')}</p>
        <Pick
          label={t('house.takeLook')}
          choices={choices}
          onPick={(id) => void take(id, (report) => houseThemeOf(report, theme.name))}
        />
      </Part>
      <Part title={t('house.colours')}>
        {color('accent', t('house.accent'))}
        {color('ink', t('house.ink'))}
        {color('quiet', t('house.quiet'))}
        {colorOrNone('rule', t('house.rule'))}
        {colorOrNone('alternate', t('house.alternate'))}
        {colorOrNone('captionBand', t('house.captionBand'))}
      </Part>
      <Part title={t('house.text')}>
        <Line label={t('house.font')}>
          <Select
            label={t('house.font')}
            value={theme.font}
            choices={families.map((value) => ({ value, label: value }))}
            onPick={(font) => set({ font })}
          />
        </Line>
        <Line label={t('house.titleFont')}>
          <Select
            label={t('house.titleFont')}
            value={theme.titleFont ?? theme.font}
            choices={families.map((value) => ({ value, label: value }))}
            onPick={(titleFont) => set({ titleFont })}
          />
        </Line>
        <Line label={t('house.size')}>
          <NumberBox
            label={t('house.size')}
            value={theme.size ?? 9.5}
            unit="pt"
            least={4}
            most={40}
            onCommit={(size) => set({ size })}
          />
        </Line>
        <Line label={t('house.titleSize')}>
          <NumberBox
            label={t('house.titleSize')}
            value={theme.title.size ?? 20}
            unit="pt"
            least={6}
            most={80}
            onCommit={(size) => set({ title: { ...theme.title, size } })}
          />
        </Line>
        <Line label={t('house.captionColor')}>
          <ColorBox
            label={t('house.captionColor')}
            value={theme.caption.color ?? theme.ink}
            onPick={(picked) => set({ caption: { ...theme.caption, color: picked } })}
          />
        </Line>
        <Check
          label={t('house.captionBold')}
          checked={theme.caption.bold ?? false}
          onChange={(bold) => set({ caption: { ...theme.caption, bold } })}
        />
      </Part>
      <Part title={t('house.series')}>
        <ul className="flex flex-wrap gap-1.5">
          {palette.map((one, i) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: a colour is its place
            <li key={i} className="flex items-center">
              <ColorBox
                label={t('house.seriesColor', { number: i + 1 })}
                value={one}
                onPick={(picked) => set({ palette: palette.map((other, at) => (at === i ? picked : other)) })}
                {...(palette.length > 1
                  ? { onClear: () => set({ palette: palette.filter((_, at) => at !== i) }) }
                  : {})}
              />
            </li>
          ))}
          {palette.length < MOST_COLOURS && (
            <li>
              <IconButton
                label={t('house.addColor')}
                onClick={() => set({ palette: [...palette, PALETTE[palette.length % PALETTE.length]!] })}
              >
                <Plus size={14} />
              </IconButton>
            </li>
          )}
        </ul>
      </Part>
      <Part title={t('house.furniture')}>
        <p className="text-ink-2">{t('house.furnitureHelp')}</p>
        {bands.length > 0 && (
          <ul>
            {bands.map((band) => (
              <li key={band} className="flex items-center gap-2">
                <span className="flex-1">{t(`bands.${band}`)}</span>
                <IconButton
                  label={t('house.removeBand', { name: t(`bands.${band}`) })}
                  onClick={() => set({ furniture: without(theme.furniture!, band) })}
                >
                  <X size={14} />
                </IconButton>
              </li>
            ))}
          </ul>
        )}
        <Pick
          label={t('house.takeBands')}
          choices={choices}
          onPick={(id) =>
            void take(id, (report) => {
              const { page, furniture } = houseThemeOf(report, theme.name);
              const { furniture: _, ...rest } = theme;
              return { ...rest, ...(page ? { page } : {}), ...(furniture ? { furniture } : {}) };
            })
          }
        />
      </Part>
    </div>
  );
};

const Part = ({ title, children }: { title: string; children: ReactNode }) => (
  <section className="flex flex-col gap-1.5 border-t border-rule-soft pt-3">
    <h2 className="font-semibold">{title}</h2>
    {children}
  </section>
);

const Line = ({ label, children }: { label: string; children: ReactNode }) => (
  <div className="grid min-h-[26px] grid-cols-[minmax(0,1fr)_minmax(0,1.2fr)] items-center gap-2">
    <span className="text-ink-2">{label}</span>
    <span>{children}</span>
  </div>
);
