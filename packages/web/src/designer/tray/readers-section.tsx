import type { Readers, Report } from '@gaveta/core/internal';
import { useTranslation } from '../../i18n/use-translation.ts';
import { Select } from '../../ui/select.tsx';
import { useDesigner } from '../design/state.ts';
import { Section, Setting } from '../settings/setting.tsx';

const ORIGINS = ['rows', 'formulas', 'none'] as const satisfies Readers['origins'][];
const ARRANGE = ['sort', 'all', 'none'] as const satisfies Readers['arrange'][];
/** Seconds between two runs that are offered. */
const REFRESH = [10, 30, 60, 300, 900] as const;

/** What readers may do with the report. */
export const ReadersSection = ({ report }: { report: Report }) => {
  const { t } = useTranslation();
  const { edit } = useDesigner.getState();
  const { readers = {} } = report;
  const { origins = 'rows', arrange = 'sort', refresh } = readers;
  const set = (what: string, changed: Partial<Readers>): void => {
    const known = Object.entries({ ...readers, ...changed }).filter(([, value]) => value !== undefined);
    const settings = { readers: known.length === 0 ? null : Object.fromEntries(known) };
    edit(t('edits.set', { what: what.toLowerCase() }), { do: 'report', settings });
  };
  const times = [...new Set([...REFRESH, ...(refresh === undefined ? [] : [refresh])])].sort((a, b) => a - b);
  return (
    <Section title={t('readers.title')} section="readers">
      <Setting label={t('readers.origins')}>
        <Select
          label={t('readers.origins')}
          value={origins}
          choices={ORIGINS.map((value) => ({ value, label: t(`readers.origins_${value}`) }))}
          onPick={(value) => set(t('readers.origins'), { origins: value === 'rows' ? undefined : value })}
        />
      </Setting>
      <Setting label={t('readers.arrange')}>
        <Select
          label={t('readers.arrange')}
          value={arrange}
          choices={ARRANGE.map((value) => ({ value, label: t(`readers.arrange_${value}`) }))}
          onPick={(value) => set(t('readers.arrange'), { arrange: value === 'sort' ? undefined : value })}
        />
      </Setting>
      <Setting label={t('readers.refresh')}>
        <Select
          label={t('readers.refresh')}
          value={String(refresh ?? '')}
          choices={[
            { value: '', label: t('viewer.refresh.never') },
            ...times.map((seconds) => ({
              value: String(seconds),
              label:
                seconds % 60 === 0
                  ? t('readers.minutes', { count: seconds / 60 })
                  : t('readers.seconds', { count: seconds }),
            })),
          ]}
          onPick={(value) => set(t('readers.refresh'), { refresh: value === '' ? undefined : Number(value) })}
        />
      </Setting>
    </Section>
  );
};
