import {
  type Field,
  type GroupValue,
  INSIDE,
  INSIDE_BLANK,
  inGroups,
  levelSteps,
  type PlannedRecipe,
  phrase,
  planRecipe,
  RowProblem,
  rowSteps,
  type Sketch,
  type SketchRows,
  type Step,
  sketchRows,
  type WireValue,
} from '@gaveta/core/internal';
import { withText } from '../base/problem-text.ts';
import { RecipeDesk } from '../recipes/desk.ts';
import type { Calls } from './call.ts';
import { failureOf, failureWith, lookingOver, type RecipeParts } from './looking.ts';

interface Lines {
  fields: Field[];
  lines: WireValue[][];
  inside: number[];
}

interface Answer {
  fields: Field[];
  rows: readonly (readonly WireValue[])[];
}

/** Lines of groups without what counts those inside, which is told apart. */
const asLines = ({ fields, rows }: Answer): Lines => {
  const [inside, blank] = [INSIDE, INSIDE_BLANK].map((name) => fields.findIndex((f) => f.name === name));
  const shown = [...fields.keys()].filter((i) => i !== inside && i !== blank);
  return {
    fields: shown.map((i) => fields[i]!),
    lines: rows.map((row) => shown.map((i) => row[i] ?? null)),
    // Neither is there at the innermost level, where no group has a blank.
    inside: rows.map((row) => Number(row[inside!] ?? 0) + Number(row[blank!] ?? 0)),
  };
};

/** Rows as a sketch shows them: its columns alone, by their names. */
const asRows = ({ fields, rows }: Answer, shown: ReadonlyMap<string, string>): Lines => {
  const places = [...shown].map(([name, from]) => ({ name, at: fields.findIndex((f) => f.name === from) }));
  return {
    fields: places.flatMap(({ name, at }) => (fields[at] ? [{ ...fields[at], name }] : [])),
    lines: rows.map((row) => places.flatMap(({ at }) => (at < 0 ? [] : [row[at] ?? null]))),
    inside: [],
  };
};

/** Sketches: their lines, level by level. */
export const sketchService = (parts: RecipeParts): Calls<'POST /sketch/lines'> => {
  const { statements } = parts;
  const { previewSeconds } = parts.limits;
  const { contextFor, deskOptions } = lookingOver(parts);

  /** What shows the lines in a group: the groups inside it, or its rows with the names that its columns have there. */
  const stepsAt = (
    sketch: Sketch,
    rows: SketchRows,
    at: readonly GroupValue[],
  ): { steps: Step[]; shown: ReadonlyMap<string, string> | null } => {
    const within = [...rows.steps, ...inGroups(sketch, rows.groups, at)];
    if (at.length < sketch.groups.length)
      return { steps: [...within, ...levelSteps(sketch, rows, at.length + 1)], shown: null };
    const { steps, shown } = rowSteps(sketch, rows);
    return { steps: [...within, ...steps], shown };
  };

  return {
    'POST /sketch/lines': async ({ caller, signal, body: { sketch, windows, language, timeZone } }) => {
      const started = performance.now();
      const context = await contextFor([]);
      const rows = sketchRows(sketch, context);
      await statements.check(caller, [rows.steps, rows.queries]);
      const queries = { ...context, queries: rows.queries };
      const planned = (steps: readonly Step[]): PlannedRecipe => planRecipe({ name: 'sketch', steps }, queries);
      const end = planned([...rows.steps, ...levelSteps(sketch, rows, 0)]);
      const levels = windows.map((window) => {
        const { steps, shown } = stepsAt(sketch, rows, window.at);
        return { window, recipe: planned(steps), shown };
      });
      const wrong = [
        ...rows.problems,
        ...[end, ...levels.map(({ recipe }) => recipe)].flatMap((level) => level.problems),
      ];
      const problems = withText(wrong);
      const took = (): number => performance.now() - started;
      // With what is wrong left out, other rows would be shown and counted than were asked for.
      if (wrong[0]) return { problems, failure: failureWith(wrong[0]), windows: null, end: null, milliseconds: took() };
      try {
        const asked = { language, timeZone, parameters: [], values: {} };
        const desk = await RecipeDesk.open(
          [end, ...levels.map(({ recipe }) => recipe)],
          deskOptions(caller, asked, signal),
        );
        try {
          const found: Lines[] = [];
          for (const { window, recipe, shown } of levels) {
            // All of them together take no longer than one may.
            if (took() > previewSeconds * 1000)
              throw new RowProblem('query-failed', { detail: phrase('statement-slow', { seconds: previewSeconds }) });
            const answer = await desk.rows(recipe, window.most, window.from);
            found.push(shown ? asRows(answer, shown) : asLines(answer));
          }
          const { fields, lines, inside } = asLines(await desk.rows(end, 1));
          const last = { fields, line: lines[0] ?? [], inside: inside[0] ?? 0 };
          return { problems, failure: null, windows: found, end: last, milliseconds: took() };
        } finally {
          await desk.close();
        }
      } catch (error) {
        if (!(error instanceof RowProblem)) throw error;
        return { problems, failure: failureOf(error), windows: null, end: null, milliseconds: took() };
      }
    },
  };
};
