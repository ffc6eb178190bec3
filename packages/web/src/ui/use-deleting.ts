import { useMutation, useQueryClient } from '@tanstack/react-query';
import { create } from 'zustand';
import { api } from '../api/client.ts';
import { queries } from '../api/queries.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { agreed } from './confirm.tsx';

/** A report by its id and name. */
interface Named {
  id: string;
  name: string;
}

/** The report that was deleted last, as long as that is said. */
export const useDeleted = create<{ report: Named | null }>(() => ({ report: null }));

/** Deletes reports, after asking where others would miss them, and brings them back. */
export const useDeleting = () => {
  const { t, i18n } = useTranslation();
  const client = useQueryClient();
  const changed = (): Promise<void> => client.invalidateQueries(queries.reports());
  /** Gives whether it was deleted. */
  const remove = useMutation({
    mutationFn: async ({ id, name }: Named): Promise<boolean> => {
      const users = (await api.reportUsers(id)).filter(({ how }) => how !== 'around');
      const names = new Intl.ListFormat(i18n.language).format(users.map((user) => `“${user.name}”`));
      const asked = t('library.usedBy', { name, names, count: users.length });
      if (users.length > 0 && !(await agreed(asked, t('library.delete')))) return false;
      await api.removeReport(id);
      useDeleted.setState({ report: { id, name } });
      await changed();
      return true;
    },
  });
  const restore = useMutation({
    mutationFn: async ({ id }: Named) => {
      await api.restoreReport(id);
      useDeleted.setState({ report: null });
      await changed();
    },
  });
  return { remove, restore };
};
