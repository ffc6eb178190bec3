import { readDefinition } from '../definition/read.ts';
import type { Report } from '../definition/schema.ts';
import type { z } from '../definition/zod.ts';
import { type HouseThing, readHouseThing } from '../edit/house.ts';
import type { Problem } from '../problems/problem.ts';
import type { StoredRecipe } from '../recipe/stored.ts';
import { type Sketch, sketchSchema } from '../sketch/schema.ts';
import type { FileKind } from './file-names.ts';
import { changedRecipe } from './parts.ts';

/** A recipe as it stands in a file. */
export type RecipeFile = Pick<StoredRecipe, 'name' | 'steps' | 'parameters'>;

/** What stands in a file of the library. */
export type Filed = Report | Sketch | HouseThing | RecipeFile;

export const isRecipeFile = (filed: Filed): filed is RecipeFile => !('gaveta' in filed) && 'steps' in filed;

/** What a file says; null for what is wrong, with problems of a report and the error of anything else. */
export const readFiled = (
  kind: FileKind,
  json: unknown,
): { filed: Filed } | { filed: null; problems: readonly Problem[]; error: z.ZodError | null } => {
  const wrong = (error: z.ZodError) => ({ filed: null, problems: [], error });
  switch (kind) {
    case 'report': {
      const read = readDefinition(json);
      return read.ok ? { filed: read.report } : { filed: null, problems: read.problems, error: null };
    }
    case 'sketch': {
      const read = sketchSchema.safeParse(json);
      return read.success ? { filed: read.data } : wrong(read.error);
    }
    case 'recipe': {
      const read = changedRecipe.safeParse(json);
      return read.success ? { filed: read.data as RecipeFile } : wrong(read.error);
    }
    case 'picture':
    case 'theme': {
      const { thing, error } = readHouseThing(json);
      return error ? wrong(error) : { filed: thing };
    }
    default:
      return kind satisfies never;
  }
};
