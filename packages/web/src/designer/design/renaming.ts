import { type NameMeaning, renamePart } from '@gaveta/core/internal';
import { useTranslation } from '../../i18n/use-translation.ts';
import { useDesign } from './context.ts';
import { useDesigner } from './state.ts';

/** Gives a part of the report another name, in every formula that means it too: one step to undo. */
export const useRename = (): ((part: NameMeaning, to: string) => void) => {
  const { t } = useTranslation();
  const { plan } = useDesign();
  return (part, to) => {
    const { history, edit } = useDesigner.getState();
    if (history)
      edit(t('edits.renameTo', { name: to }), { do: 'whole', report: renamePart(history.report, part, to, plan) });
  };
};
