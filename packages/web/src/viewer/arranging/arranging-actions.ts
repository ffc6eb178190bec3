import type { TFunction } from 'i18next';
import type { ShownValue } from '../origin/value-at.ts';
import type { ValueAction } from '../origin/value-menu.tsx';
import { withColumn } from './arrangement.ts';
import type { Arranging } from './use-arranging.ts';

/** What a menu on a caption, or on a value of a column, offers. `failed`: told why rows could not be cut to a value. */
export const arrangingActions = (
  t: TFunction,
  arranging: Arranging,
  value: ShownValue,
  failed: (error: unknown) => void,
): ValueAction[] => {
  const { may, captioned, valued, now, sort, set, only } = arranging;
  const { item } = value.asked;
  const own = valued(item);
  const column = captioned(item) ?? own;
  if (may === 'none' || !column) return [];
  const { id, label: name, mayBeHidden } = column;
  const sorts: ValueAction[] = [
    { id: 'sort', label: t('viewer.arranged.sort', { name }), run: () => sort(column, false) },
    { id: 'sort-down', label: t('viewer.arranged.sortDown', { name }), run: () => sort(column, true) },
  ];
  if (may === 'sort') return sorts;
  return [
    ...sorts,
    ...(own
      ? [
          {
            id: 'only',
            label: t('viewer.arranged.keepOnly', { name, value: value.text }),
            run: () => {
              failed(null);
              void only(own, value).catch(failed);
            },
          },
        ]
      : []),
    ...(mayBeHidden
      ? [{ id: 'hide', label: t('viewer.arranged.hide', { name }), run: () => set(withColumn(now, id, false)) }]
      : []),
  ];
};
