import type { GroupingItem, OwnRows } from '@gaveta/core/internal';
import { useTranslation } from '../../../i18n/use-translation.ts';
import { Check, NumberBox } from '../../../ui/commit.tsx';
import { Select } from '../../../ui/select.tsx';
import { useDesign } from '../../design/context.ts';
import { FormulaBox } from '../../formula/formula-box.tsx';
import { Setting } from '../../settings/setting.tsx';
import { type GroupingHands, without } from './use-grouping.ts';

interface Props<I extends GroupingItem> {
  hands: GroupingHands<I>;
  /** Its settings without fields: those of other rows mean nothing to new ones. */
  cleared: Partial<I>;
}

/** Which rows are grouped: those of the place, or the item’s own. */
export const RowsOf = <I extends GroupingItem>({ hands, cleared }: Props<I>) => {
  const { t } = useTranslation();
  const { item, set, relations } = hands;
  const { model } = useDesign();
  const { rows } = item;
  const value = !rows ? '' : 'entity' in rows ? `=${rows.entity}` : `>${rows.relation}`;
  const tables = (model?.entities ?? []).filter((entity) => !entity.arguments);
  const known = relations.map(({ name, label }) => ({ value: `>${name}`, label }));
  const lost = rows && 'relation' in rows && !relations.some(({ name }) => name === rows.relation);
  return (
    <>
      <Setting label={t('drawer.rowsFrom')}>
        <Select
          label={t('drawer.rowsFrom')}
          value={value}
          choices={[
            { value: '', label: t('crosstab.rowsOfPlace') },
            ...(lost ? [{ value, label: rows.relation }] : []),
            ...known.map((choice) => ({ ...choice, group: t('crosstab.rowsOfRow') })),
            ...tables.map(({ name, plural }) => ({
              value: `=${name}`,
              label: plural,
              ...(known.length > 0 ? { group: t('crosstab.rowsOfTable') } : {}),
            })),
          ]}
          onPick={(next) => {
            if (next === value) return;
            const name = next.slice(1);
            // Fields of other rows mean nothing to the new ones.
            set(t('drawer.rowsFrom'), {
              ...cleared,
              rows: next === '' ? null : next.startsWith('=') ? { entity: name } : { relation: name },
            } as Partial<I>);
          }}
        />
      </Setting>
      {rows && <OwnRowsSettings hands={hands} rows={rows} />}
    </>
  );
};

/** Which of its own rows an item groups: a condition, and at most so many in an order. */
const OwnRowsSettings = <I extends GroupingItem>({
  hands: { set, placeOf },
  rows,
}: {
  hands: GroupingHands<I>;
  rows: OwnRows;
}) => {
  const { t } = useTranslation();
  const put = (what: string, next: { [K in keyof OwnRows]?: OwnRows[K] | null }): void =>
    set(what, { rows: without({ ...rows, ...next }) } as Partial<I>);
  const [sort] = rows.sort ?? [];
  return (
    <>
      <Setting label={t('crosstab.filter')} wide>
        <FormulaBox
          label={t('crosstab.filter')}
          value={rows.filter ?? ''}
          address={placeOf('filter', [], (filter) => ({ rows: { ...rows, filter } }) as Partial<I>)}
          placeholder={t('crosstab.filterExample')}
          onCommit={(filter) => put(t('crosstab.filter'), { filter: filter.trim() === '' ? null : filter })}
        />
      </Setting>
      <Setting label={t('crosstab.firstRows')}>
        <NumberBox
          label={t('crosstab.firstRows')}
          unit=""
          value={rows.first}
          least={1}
          most={10_000_000}
          placeholder={t('crosstab.all')}
          onCommit={(first) => put(t('crosstab.firstRows'), { first: Math.round(first) })}
          onClear={() => put(t('crosstab.firstRows'), { first: null, sort: null })}
        />
      </Setting>
      {rows.first !== undefined && (
        <Setting label={t('crosstab.sortRows')} wide>
          <FormulaBox
            label={t('crosstab.sortRows')}
            value={sort?.by ?? ''}
            address={placeOf('sort', [], (by) => ({ rows: { ...rows, sort: [{ by }] } }) as Partial<I>)}
            onCommit={(by) => put(t('crosstab.sortRows'), { sort: by.trim() === '' ? null : [{ ...sort, by }] })}
          />
          {sort && (
            <Check
              label={t('drawer.down_any')}
              checked={sort.descending ?? false}
              onChange={(on) =>
                put(t('crosstab.sortRows'), { sort: [{ by: sort.by, ...(on ? { descending: true } : {}) }] })
              }
            />
          )}
        </Setting>
      )}
    </>
  );
};
