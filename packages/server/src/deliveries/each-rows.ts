import {
  decodeValue,
  type Field,
  type PlannedRecipe,
  type Problem,
  planRecipe,
  type Report,
  RowProblem,
  type Step,
  shownFields,
  type Value,
  type WireRow,
} from '@gaveta/core/internal';
import { RecipeDesk } from '../recipes/desk.ts';
import type { Caller } from '../services/call.ts';
import { failureOf, lookingOver, type RecipeParts } from '../services/looking.ts';
import { NotDelivered } from './outcome.ts';

/** Rows with their fields. */
export interface EachRows {
  fields: Field[];
  rows: WireRow[];
}

/** The rows after some steps, as somebody sees them: those that get a part each, and those that a delivery waits for. */
export const rowsOver = (parts: RecipeParts) => {
  const { contextFor, deskOptions } = lookingOver(parts);

  const planned = async (steps: readonly Step[]) =>
    planRecipe({ name: 'rows', steps: [...steps] }, await contextFor([], []));

  /** Their fields alone, and what is wrong with the steps. */
  const fieldsOf = async (steps: readonly Step[]): Promise<{ fields: Field[]; broken: Problem | null }> => {
    const recipe = await planned(steps);
    return { fields: shownFields(recipe.fields), broken: brokenIn(recipe) };
  };

  /** At most so many. Throws NotDelivered where the steps do not work, and ApiError where the caller may not take rows there. */
  const rowsOf = async (
    caller: Caller,
    steps: readonly Step[],
    { language, timeZone }: Pick<Report, 'language' | 'timeZone'>,
    most: number,
    signal: AbortSignal,
  ): Promise<EachRows> => {
    await parts.rights.check(caller, steps);
    const recipe = await planned(steps);
    const broken = brokenIn(recipe);
    if (broken) throw new NotDelivered(broken, false);
    try {
      const options = deskOptions(caller, { language, timeZone, parameters: [], values: {} }, signal, 'run');
      const desk = await RecipeDesk.open([recipe], options);
      try {
        const { rows, fields } = await desk.rows(recipe, most);
        return { rows, fields };
      } finally {
        await desk.close();
      }
    } catch (error) {
      if (!(error instanceof RowProblem)) throw error;
      throw new NotDelivered(failureOf(error).problem, true);
    }
  };
  return { fieldsOf, rowsOf };
};

/** The first that is wrong with rows; null where they can be read. */
const brokenIn = ({ problems, steps }: PlannedRecipe): Problem | null =>
  [...problems, ...steps.flatMap((step) => step.problems)].find(({ severity }) => severity === 'error') ?? null;

/** A row as formulas read it. */
export const decodedRow = (row: WireRow, fields: readonly Field[]): Value[] =>
  fields.map(({ type }, i) => decodeValue(row[i] ?? null, type));
