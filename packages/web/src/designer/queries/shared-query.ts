import { type Edit, freeName, type Report } from '@gaveta/core/internal';
import type { StoredRecipe } from '../../api/client.ts';

/** Makes a recipe a query of the report, with what it asks for; gives the query's name too. */
export const sharedQuery = (report: Report, recipe: StoredRecipe): { name: string; edit: Edit } => {
  const list = report.queries ?? [];
  const name = freeName('rows', new Set(list.map((q) => q.name)));
  const names = new Set(report.parameters.map((p) => p.name));
  const parameters = [...report.parameters, ...recipe.parameters.filter((p) => !names.has(p.name))];
  const queries = [...list, { name, label: recipe.name, recipe: recipe.id }];
  return { name, edit: { do: 'report', settings: { queries, parameters } } };
};
