import type { Reached, RecipeContext, Sketch } from '@gaveta/core/internal';
import { createContext, useContext } from 'react';
import type { ModelWithOrigin, StoredRecipe } from '../api/client.ts';
import type { AskedSketch } from '../api/sketches.ts';

/** What all hands on a sketch share. */
export interface SketchParts {
  sketch: Sketch;
  change: (next: Sketch) => void;
  reach: readonly Reached[];
  context: RecipeContext;
  models: readonly ModelWithOrigin[];
  recipes: readonly StoredRecipe[];
  /** As the server is asked about it. */
  asked: AskedSketch;
  /** Whoever reads a stored sketch folds, sorts and filters, and changes nothing else. */
  isReading: boolean;
  /** How many of its conditions a reader cannot take away. */
  fixed: number;
}

const Parts = createContext<SketchParts | null>(null);

export const SketchProvider = Parts.Provider;

export const useParts = (): SketchParts => {
  const parts = useContext(Parts);
  if (!parts) throw new Error('Parts of a sketch stand inside a SketchProvider');
  return parts;
};
