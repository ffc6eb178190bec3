import type { Report } from '@gaveta/core/internal';
import { useTranslation } from '../../i18n/use-translation.ts';
import { Pick } from '../../ui/pick.tsx';
import { firstDrawerEntries } from '../commands/add-entries.ts';
import { addEntry } from '../commands/add-menu.tsx';
import { useDesign } from '../design/context.ts';

/** How to begin, while the report has no rows. */
export const EmptyBoard = ({ report }: { report: Report }) => {
  const { t } = useTranslation();
  const { model, models, recipes } = useDesign();
  const entries = firstDrawerEntries({ t, report, model, models, recipes });
  return (
    <div data-own-press className="max-w-[340px] rounded-md border border-rule bg-paper p-4 text-center">
      <p className="font-semibold">{t('empty.rows')}</p>
      <p className="mt-1 mb-3 text-ink-2">{t('empty.rowsHelp')}</p>
      <Pick
        label={t('empty.take')}
        look="primary"
        choices={entries.map((e) => ({ value: e.id, label: e.title, note: e.sentence }))}
        onPick={(id) => {
          const entry = entries.find((e) => e.id === id);
          if (entry) addEntry(entry, t('edits.add', { what: entry.title }));
        }}
      />
    </div>
  );
};
