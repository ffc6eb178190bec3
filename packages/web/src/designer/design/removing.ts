import { followersOf, type NameMeaning, type Report, rowsUsers, usesOf } from '@gaveta/core/internal';
import type { TFunction } from 'i18next';
import { agreed } from '../../ui/confirm.tsx';
import { currentPlan } from './model-of.ts';
import { useDesigner } from './state.ts';
import { placeWords } from './words.ts';

/** How many of the places that use something are named. */
const NAMED = 4;

/** Something of a report that others in it may use. */
type Removable = NameMeaning | { kind: 'query'; name: string };

/** The places of a report that use a part of it, in words, each once. */
const usersWords = (t: TFunction, report: Report, part: Removable): string[] => {
  const names = useDesigner.getState().reportNames;
  const paths =
    part.kind === 'query' ? rowsUsers(report, part.name) : usesOf(report, part, currentPlan()).map(({ path }) => path);
  const words = paths.flatMap((path) => placeWords(t, report, path, names) ?? []);
  const followers = part.kind === 'parameter' ? followersOf(report.parameters, part.name).map((p) => p.label) : [];
  return [...new Set([...words, ...followers])];
};

/** Asks before a part of the report goes that something else uses, naming what does; goes on at once where nothing does. */
export const agreedToRemove = async (t: TFunction, name: string, part: Removable): Promise<boolean> => {
  const { history } = useDesigner.getState();
  const users = history ? usersWords(t, history.report, part) : [];
  if (users.length === 0) return true;
  const shown = users.slice(0, NAMED).join(', ');
  const text = t('designer.askRemoveUsed', { name, users: shown, count: users.length });
  const more = users.length > NAMED ? ` ${t('designer.andMore', { count: users.length - NAMED })}` : '';
  return agreed(`${text}${more}`, t('designer.removeUsed', { name }));
};
