import type { ExplainedTotal, Explanation } from '@gaveta/core/internal';
import type { TFunction } from 'i18next';

/** A label inside a sentence: `Charges` as `charges`, `VAT rate` as it is. */
export const inSentence = (label: string): string =>
  /^\p{Lu}(?:\p{Ll}|$|\s)/u.test(label) ? label.charAt(0).toLocaleLowerCase() + label.slice(1) : label;

const scopeWords = (t: TFunction, { kind, drawer, group, outer }: ExplainedTotal['scope']): string => {
  switch (kind) {
    case 'row':
      return t('viewer.origin.ofThis', { name: inSentence(drawer) });
    case 'group':
      return t('viewer.origin.ofThis', { name: inSentence(group) });
    case 'page':
      return t('viewer.origin.onPage');
    case 'others':
      return t('viewer.origin.ofOthers');
    default:
      return outer === null ? t('viewer.origin.ofAll') : t('viewer.origin.ofThis', { name: inSentence(outer) });
  }
};

/** A total in a sentence: “sum of amount over the 154 charges of this hut”. */
export const totalSentence = (t: TFunction, total: ExplainedTotal, groups: Explanation['groups']): string => {
  const { name, of, drawer, count } = total;
  const what = t(`viewer.origin.total_${name}`, { of: inSentence(of) });
  if (name === 'RANK') return t('viewer.origin.ranked', { what, scope: scopeWords(t, total.scope) });
  const scope =
    groups.length > 0
      ? t('viewer.origin.ofGroups', { groups: groups.map(({ text }) => text).join(', ') })
      : scopeWords(t, total.scope);
  if (name === 'COUNT' && of === drawer) return t('viewer.origin.counted', { count, rows: inSentence(drawer), scope });
  return t(name === 'RUNNING' ? 'viewer.origin.soFar' : 'viewer.origin.over', {
    what,
    count,
    rows: inSentence(drawer),
    scope,
  });
};
