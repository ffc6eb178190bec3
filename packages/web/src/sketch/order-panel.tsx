import type { Sketch } from '@gaveta/core/internal';
import { ArrowDownNarrowWide, ArrowUpNarrowWide, X } from 'lucide-react';
import { useTranslation } from '../i18n/use-translation.ts';
import { IconButton } from '../ui/controls.tsx';
import { Select } from '../ui/select.tsx';
import { useParts } from './parts.ts';
import { columnLabel, groupLabel, labelOf, typeOf } from './words.ts';

const MOST = 8;

/** What lines are sorted by, the first one counting most. */
export const OrderPanel = () => {
  const { t } = useTranslation();
  const { sketch, change, reach } = useParts();
  const { order } = sketch;
  const put = (next: Sketch['order']): void => change({ ...sketch, order: next });
  const used = new Set(order.map(({ by }) => by));
  const choices = [
    ...sketch.columns
      .filter(({ hidden }) => !hidden)
      .map((column) => ({ value: column.name, label: columnLabel(column, reach) })),
    ...sketch.groups.map((group) => ({ value: group.name, label: groupLabel(group, reach) })),
  ];
  const free = choices.filter(({ value }) => !used.has(value));
  return (
    <div className="flex flex-col gap-1.5 p-3">
      <h3 className="font-semibold">{t('sketch.sortBy')}</h3>
      {order.map((entry, i) => {
        const type = typeOf(sketch, entry.by, reach);
        const way = entry.descending ? 'descending' : 'ascending';
        const Icon = entry.descending ? ArrowDownNarrowWide : ArrowUpNarrowWide;
        const label = labelOf(sketch, entry.by, reach);
        return (
          <div key={entry.by} className="flex items-center gap-1">
            <span className="min-w-0 flex-1 truncate">{label}</span>
            <button
              type="button"
              className="flex items-center gap-1 rounded border border-rule px-1.5 py-0.5 hover:bg-desk/50"
              onClick={() =>
                put(
                  order.map((old, at) =>
                    at === i ? { by: old.by, ...(old.descending ? {} : { descending: true }) } : old,
                  ),
                )
              }
            >
              <Icon size={13} aria-hidden /> {t(`sketch.sort_${type}_${way}`)}
            </button>
            <IconButton label={t('sketch.unsort', { label })} onClick={() => put(order.filter((_, at) => at !== i))}>
              <X size={13} />
            </IconButton>
          </div>
        );
      })}
      {free.length > 0 && order.length < MOST && (
        <Select
          label={t('sketch.sortAlso')}
          value={undefined}
          blank={t(order.length === 0 ? 'sketch.sortChoose' : 'sketch.sortAlso')}
          choices={free}
          onPick={(by) =>
            put([...order, { by, ...(typeOf(sketch, by, reach) === 'number' ? { descending: true } : {}) }])
          }
        />
      )}
    </div>
  );
};
