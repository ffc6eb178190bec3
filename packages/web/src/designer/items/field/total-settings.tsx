import {
  type ItemOf,
  type TotalFacts,
  type TotalParts,
  totalFormula,
  totalParts,
  totalScopes,
} from '@gaveta/core/internal';
import type { TFunction } from 'i18next';
import { useMemo } from 'react';
import { useTranslation } from '../../../i18n/use-translation.ts';
import { Select } from '../../../ui/select.tsx';
import { useDesign } from '../../design/context.ts';
import type { Chosen } from '../../settings/item-context.ts';
import { Setting } from '../../settings/setting.tsx';

/** Totals that are offered, the likeliest first. */
const TOTAL_NAMES = [
  'SUM',
  'AVERAGE',
  'COUNT',
  'COUNTA',
  'COUNTDISTINCT',
  'MIN',
  'MAX',
  'MEDIAN',
  'FIRST',
  'LAST',
] as const;

/** Which total it is and which rows it counts, in words. */
export const TotalSettings = ({ item, chosen }: { item: ItemOf<'field'>; chosen: Chosen }) => {
  const { t } = useTranslation();
  const { report, plan } = useDesign();
  const parts = totalParts(item.formula);
  const { address } = chosen;
  const scopes = useMemo(() => {
    const read = totalParts(item.formula);
    return read ? totalScopes(report, address, read, plan) : [];
  }, [report, address, item.formula, plan]);
  if (!parts) return null;
  const set = (next: Partial<TotalParts>): void =>
    chosen.set(t('designer.formula'), { formula: totalFormula({ ...parts, ...next }) });
  const all = scopes.map(({ scope, facts }) => ({ value: scope ?? '', label: scopeWords(t, facts) }));
  // All rows of an inner drawer and their outer row are the same to people: the one that is written, or the first, stays.
  const choices = all.filter(
    ({ value, label }, i) =>
      value === (parts.scope ?? '') ||
      !all.some((other, at) => other.label === label && (at < i || other.value === (parts.scope ?? ''))),
  );
  const known = TOTAL_NAMES.find((name) => name === parts.name);
  return (
    <>
      <Setting label={t('formula.total')}>
        <Select
          label={t('formula.total')}
          value={known}
          blank={parts.name}
          choices={TOTAL_NAMES.map((value) => ({ value, label: totalName(t, value) }))}
          onPick={(name) => set({ name })}
        />
      </Setting>
      <Setting label={t('formula.over')}>
        <Select
          label={t('formula.over')}
          value={parts.scope ?? ''}
          choices={choices}
          onPick={(scope) => set({ scope: scope === '' ? null : scope })}
        />
      </Setting>
    </>
  );
};

const totalName = (t: TFunction, name: (typeof TOTAL_NAMES)[number]): string =>
  t(name === 'MEDIAN' ? 'formula.total_MEDIAN' : `data.total_${name}`);

/** Which rows a total counts. */
const scopeWords = (t: TFunction, { over, drawer, group, outer, first }: TotalFacts): string => {
  const rows =
    over === 'set' && outer === null
      ? t('formula.scope_report')
      : t(`formula.scope_${over}`, { drawer, group: group ?? '', outer: outer ?? '' });
  return first === null ? rows : t('formula.firstOnly', { rows, first });
};
