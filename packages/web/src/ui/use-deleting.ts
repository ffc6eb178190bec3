import { useMutation, useQueryClient } from '@tanstack/react-query';
import { create } from 'zustand';
import { api } from '../api/client.ts';
import { type Kind, library } from '../api/library.ts';
import { queries } from '../api/queries.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { agreed } from './confirm.tsx';

/** A thing of the library by its id and name; a report where it is not said what it is. */
interface Named {
  id: string;
  name: string;
  kind?: Kind;
}

/** Deletes a thing by the call of its kind. */
const removeThing = ({ id, kind = 'report' }: Named): Promise<unknown> => {
  const key = id.replace(/^(?:recipe|connection):/, '');
  if (kind === 'recipe') return api.removeRecipe(key);
  return kind === 'connection' ? api.removeConnection(key) : api.removeReport(id);
};

/** The report that was deleted last, as long as that is said. */
export const useDeleted = create<{ report: Named | null }>(() => ({ report: null }));

/** Deletes reports, after asking where others would miss them, and brings them back. */
export const useDeleting = () => {
  const { t, i18n } = useTranslation();
  const client = useQueryClient();
  const changed = (): Promise<void> => client.invalidateQueries(queries.reports());
  /** Gives whether it was deleted. */
  const remove = useMutation({
    mutationFn: async ({ id, name, kind = 'report' }: Named): Promise<boolean> => {
      const isRun = kind === 'report' || kind === 'sketch';
      const all = await library.users(id);
      const users = isRun
        ? [
            ...(await api.reportUsers(id)).filter(({ how }) => how !== 'around'),
            ...all.filter((user) => user.kind === 'delivery'),
          ]
        : all;
      const names = new Intl.ListFormat(i18n.language).format(users.map((user) => `“${user.name}”`));
      const asked = t('library.usedBy', { name, names, count: users.length });
      if (users.length > 0 && !(await agreed(asked, t('library.delete')))) return false;
      // What is secret of a connection is gone with it.
      const forGood = t('library.deleteConnection', { name });
      if (kind === 'connection' && users.length === 0 && !(await agreed(forGood, t('library.delete')))) return false;
      await removeThing({ id, name, kind });
      useDeleted.setState({ report: kind === 'connection' ? null : { id, name } });
      for (const key of ['recipes', 'connections', 'models', 'themes'])
        await client.invalidateQueries({ queryKey: [key] });
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
