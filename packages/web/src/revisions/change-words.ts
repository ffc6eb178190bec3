import type { Change, ReportNames } from '@gaveta/core/internal';
import type { TFunction } from 'i18next';
import { drawerLabel, itemLabel } from '../designer/design/words.ts';

/** One change in words: “Field amount: changed formula, look”. */
export const changeWords = (t: TFunction, change: Change, reports: ReportNames): string => {
  const { what, how, settings } = change;
  const name =
    what === 'item' && change.item
      ? itemLabel(t, change.item, reports)
      : what === 'drawer' && change.drawer
        ? t('drawer.bar', { name: drawerLabel(change.drawer) })
        : what === 'band'
          ? t('designer.band', { name: t(`bands.${change.id}`, { defaultValue: change.id }) })
          : t('designer.report');
  const list = settings.map((s) => t(`revisions.setting_${s}`, { defaultValue: s })).join(', ');
  const hasSettings = settings.length > 0 && (how === 'changed' || how === 'moved');
  return hasSettings ? t(`revisions.how_${how}Settings`, { name, list }) : t(`revisions.how_${how}`, { name });
};
