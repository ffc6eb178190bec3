import { Link } from 'react-router';
import type { FieldUser, FoundSourceTable, SourceChange } from '../../api/client.ts';
import { useTranslation } from '../../i18n/use-translation.ts';
import { Select } from '../../ui/select.tsx';

/** The tables that a source was found to hold, with their fields. */
export const FoundTables = ({ title, tables }: { title: string; tables: readonly FoundSourceTable[] }) => (
  <section aria-label={title} className="rounded border border-rule bg-paper p-3" role="status">
    <p className="mb-1 text-pine">{title}</p>
    <ul className="max-h-56 overflow-auto">
      {tables.map((table) => (
        <li key={table.name}>
          <b>{table.label}</b>{' '}
          <span className="text-ink-2">{table.fields.map((f) => `${f.label} (${f.type})`).join(', ')}</span>
        </li>
      ))}
    </ul>
  </section>
);

interface ChangeListProps {
  changes: readonly SourceChange[];
  users: readonly FieldUser[];
  /** Says that a field goes on over a column that is called otherwise now; left out where that cannot be said. */
  onRenamed?: (table: string, field: string, column: string) => void;
}

/** What a source gained, lost or changed, and where that is used. */
export const ChangeList = ({ changes, users, onRenamed }: ChangeListProps) => {
  const { t } = useTranslation();
  /** Fields that came to the same table, any of which may be the one that is gone under another name. */
  const others = ({ table, field, change }: SourceChange): string[] =>
    change === 'gone' && field !== null
      ? changes.flatMap((c) => (c.table === table && c.change === 'added' && c.field !== null ? [c.field] : []))
      : [];
  if (changes.length === 0) return <p role="status">{t('data.noChanges')}</p>;
  return (
    <section aria-label={t('data.changes')} className="rounded border border-rule bg-paper p-3" role="status">
      <ul>
        {changes.map((c) => {
          const name = c.field === null ? c.table : `${c.table}.${c.field}`;
          const used = users.filter((u) => u.field === c.field);
          return (
            <li key={`${name}${c.change}`} className={c.change === 'added' ? 'text-pine' : 'text-rust'}>
              {t(`data.change_${c.change}`, { name, from: c.from, to: c.to })}
              {used.map((u) => (
                <Link
                  key={`${u.kind}${u.id}`}
                  className="ms-2 text-ink underline"
                  to={u.kind === 'report' ? `/reports/${u.id}/design` : `/data/recipes/${u.id}`}
                >
                  {u.through !== null
                    ? t('data.usedThrough', { name: u.name, through: u.through })
                    : u.places.length > 0
                      ? `${u.name} (${u.places.join(', ')})`
                      : u.name}
                </Link>
              ))}
              {onRenamed && others(c).length > 0 && (
                <span className="ms-2 inline-flex items-center gap-1.5 text-ink">
                  {t('data.nowCalled')}
                  <Select
                    label={t('data.nowCalledOf', { name })}
                    value={undefined}
                    blank="–"
                    choices={others(c).map((value) => ({ value, label: value }))}
                    onPick={(column) => onRenamed(c.table, c.field!, column)}
                  />
                </span>
              )}
            </li>
          );
        })}
      </ul>
    </section>
  );
};
