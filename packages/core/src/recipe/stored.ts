import type { Recipe } from '../definition/recipe.ts';
import type { Parameter } from '../definition/schema.ts';

/** A shared recipe as it is kept: with the parameters that its steps read, and who changed it last. */
export interface StoredRecipe extends Recipe {
  parameters: Parameter[];
  /** From 1; each save makes it one more. */
  revision: number;
  /** ISO 8601. */
  changedAt: string;
  changedBy: string;
}
