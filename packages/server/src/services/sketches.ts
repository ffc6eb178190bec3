import type { BodyRead } from '@gaveta/core/contract';
import {
  acrossSteps,
  chartRows,
  chartSketch,
  type Field,
  type GroupValue,
  INSIDE,
  INSIDE_BLANK,
  inGroups,
  levelSteps,
  type PlannedRecipe,
  phrase,
  planRecipe,
  type RecipeContext,
  RowProblem,
  reachOf,
  rowSteps,
  type Sketch,
  type SketchCondition,
  type SketchRows,
  type Step,
  shownFields,
  shownPaths,
  sketchRows,
  type WireValue,
} from '@gaveta/core/internal';
import { ApiError } from '../base/api-error.ts';
import { withText } from '../base/problem-text.ts';
import { RecipeDesk } from '../recipes/desk.ts';
import type { ActivityBook } from './activity.ts';
import type { Caller, Calls } from './call.ts';
import { failureOf, failureWith, lookingOver, type RecipeParts } from './looking.ts';
import { whereNew } from './where-new.ts';

interface Lines {
  fields: Field[];
  lines: WireValue[][];
  inside: (number | null)[];
  /** Totals of each value across, on these lines. */
  across: { fields: Field[]; lines: WireValue[][] } | null;
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
    inside: rows.map((row) => (inside! < 0 ? null : Number(row[inside!] ?? 0) + Number(row[blank!] ?? 0))),
    across: null,
  };
};

/** Rows as a sketch shows them: its columns alone, by their names. */
const asRows = ({ fields, rows }: Answer, shown: ReadonlyMap<string, string>): Lines => {
  const places = [...shown].map(([name, from]) => ({ name, at: fields.findIndex((f) => f.name === from) }));
  return {
    fields: places.flatMap(({ name, at }) => (fields[at] ? [{ ...fields[at], name }] : [])),
    lines: rows.map((row) => places.flatMap(({ at }) => (at < 0 ? [] : [row[at] ?? null]))),
    inside: [],
    across: null,
  };
};

type SketchCalls =
  | 'POST /sketches'
  | 'GET /sketches/:id'
  | 'PUT /sketches/:id'
  | 'GET /sketches/:id/draft'
  | 'PUT /sketches/:id/draft'
  | 'POST /sketch/lines'
  | 'POST /sketch/values';

type Asked = BodyRead<'POST /sketch/lines'>['of'];

/** Values that go across. */
const MOST_ACROSS = 100;
/** Values of a field that are offered. */
const MOST_VALUES = 200;
/** Ranges that numbers and dates are counted in. */
const BINS = 24;

/** Totals of each value across on lines, with the innermost group of each at `place`; without lines, at the end. Throws RowProblem for too many. */
const acrossOf = async (
  desk: RecipeDesk,
  recipe: PlannedRecipe,
  lines: Lines['lines'] | null,
  place: number,
): Promise<Lines['across']> => {
  const fields = shownFields(recipe.fields);
  const most = MOST_ACROSS * (lines?.length ?? 1);
  const field = fields[place];
  const { rows } =
    lines && field
      ? await desk.rowsAmong(recipe, field, [...new Set(lines.map((line) => line[place] ?? null))], most + 1)
      : await desk.rows(recipe, most + 1);
  if (rows.length > most) throw new RowProblem('sketch-too-wide', { most: MOST_ACROSS });
  return { fields, lines: rows.map((row) => [...row]) };
};

/** What shows the lines in a group: the groups inside it, or its rows with the names that its columns have there. */
const stepsAt = (
  sketch: Sketch,
  rows: SketchRows,
  { at, levels, counted }: { at: readonly GroupValue[]; levels: number; counted: boolean },
): { steps: Step[]; shown: ReadonlyMap<string, string> | null } => {
  const within = [...rows.steps, ...inGroups(sketch, rows.groups, at)];
  const depth = Math.min(at.length + levels, sketch.groups.length);
  if (at.length < depth) return { steps: [...within, ...levelSteps(sketch, rows, depth, counted)], shown: null };
  const { steps, shown } = rowSteps(sketch, rows);
  return { steps: [...within, ...steps], shown };
};

/** What a condition is about that a sketch does not show; null where it shows all of it. */
const notShown = (sketch: Sketch, condition: SketchCondition): string | null => {
  if ('formula' in condition) return condition.formula;
  if ('column' in condition) {
    const isShown = sketch.columns.some(({ name, hidden }) => name === condition.column && !hidden);
    if (!isShown) return condition.column;
    if (condition.of !== undefined && !sketch.groups.some(({ name }) => name === condition.of)) return condition.of;
  }
  const { to } = condition;
  const paths = [...('field' in condition ? [condition.field] : []), ...(to && 'field' in to ? [to.field] : [])];
  const shown = shownPaths(sketch);
  return paths.find((path) => !shown.has(path)) ?? null;
};

/** Sketches: stored ones, work on them, and their lines, level by level. */
export const sketchService = (
  parts: RecipeParts,
  /** Told of what somebody saved. */
  saved: (id: string, caller: Caller) => void,
  book: ActivityBook,
): Calls<SketchCalls> => {
  const { store, rights, gate } = parts;
  const { previewSeconds } = parts.limits;
  const { contextFor, deskOptions } = lookingOver(parts);

  /** The sketch that is asked about. Throws where the caller may not ask it. */
  const askedSketch = async (caller: Caller, asked: Asked): Promise<Sketch> => {
    if (asked.sketch) {
      caller.needs('design');
      await rights.check(caller, asked.sketch);
      return asked.sketch;
    }
    const { sketch } = await gate.sketch(caller, 'run', asked.stored ?? '', asked.which);
    for (const condition of asked.only) {
      const other = notShown(sketch, condition);
      if (other !== null) throw new ApiError('not-in-sketch', { field: other });
    }
    return { ...sketch, order: asked.order ?? sketch.order, only: [...sketch.only, ...asked.only] };
  };

  const planner = (rows: SketchRows, context: RecipeContext) => {
    const queries = { ...context, queries: rows.queries };
    return (steps: readonly Step[]): PlannedRecipe => planRecipe({ name: 'sketch', steps }, queries);
  };

  /** Asks at a desk over planned recipes; what fails at the source is said, not thrown. */
  const atDesk = async <T>(
    caller: Caller,
    { language, timeZone }: Sketch,
    recipes: readonly PlannedRecipe[],
    signal: AbortSignal,
    look: (desk: RecipeDesk) => Promise<T>,
  ): Promise<{ found: T; failure: null } | { found: null; failure: ReturnType<typeof failureOf> }> => {
    try {
      const desk = await RecipeDesk.open(
        recipes,
        deskOptions(caller, { language, timeZone, parameters: [], values: {} }, signal),
      );
      try {
        return { found: await look(desk), failure: null };
      } finally {
        await desk.close();
      }
    } catch (error) {
      if (!(error instanceof RowProblem)) throw error;
      return { found: null, failure: failureOf(error) };
    }
  };

  return {
    'POST /sketches': async ({ caller, body: { sketch, folder: asked, note } }) => {
      await gate.checkCreate(caller);
      const folder = await gate.folderFor(caller, asked ?? null);
      await rights.check(caller, sketch);
      await gate.beforeSaveSketch(null, sketch, caller);
      const made = await store.create(sketch, caller.user, undefined, whereNew(caller, folder, note));
      saved(made.id, caller);
      book.note(caller, 'created', made);
      return made;
    },
    'GET /sketches/:id': async ({ caller, params: { id }, query: { which } }) => {
      const { stored, sketch } = await gate.sketch(caller, 'view', id, which);
      const named = shownPaths(sketch);
      for (const condition of sketch.only) if ('field' in condition) named.add(condition.field);
      const reach = reachOf(sketch.from, await contextFor([])).flatMap((at) => {
        const fields = at.fields.filter(({ name }) => named.has([...at.way, name].join('.')));
        return fields.length > 0 || at.way.length === 0 ? [{ ...at, fields, relations: [] }] : [];
      });
      return { ...stored, sketch, reach };
    },
    'PUT /sketches/:id': async ({ caller, params: { id }, body: { sketch, base, note } }) => {
      const { stored: thing } = await gate.sketch(caller, 'change', id, 'newest');
      await rights.check(caller, sketch);
      await gate.beforeSaveSketch(id, sketch, caller);
      const done = await store.save(id, sketch, base, caller.user, note, thing.publishing === 'each-save');
      if (done.ok) {
        saved(id, caller);
        book.note(caller, 'saved', done.stored, { revision: done.stored.revision, note });
        return { ...done.stored, folder: thing.folder };
      }
      if (done.reason === 'missing') throw new ApiError('unknown-sketch', { id });
      const { current } = done;
      throw new ApiError('conflict', { author: current.changedBy, revision: current.revision }, { current });
    },
    'GET /sketches/:id/draft': async ({ caller, params: { id } }) => {
      const found = await store.drafts.get(caller.owner, id);
      return found?.sketch ? { ...found.head, sketch: found.sketch } : null;
    },
    'PUT /sketches/:id/draft': async ({ caller, params: { id }, body: { sketch, base } }) => {
      await rights.checkStatements(caller, sketch);
      if (base > 0) await gate.sketch(caller, 'view', id, 'newest');
      return store.drafts.put(caller.owner, id, { report: base > 0 ? id : null, base, definition: sketch });
    },

    'POST /sketch/lines': async ({
      caller,
      signal,
      body: { of, part, windows, end: wantsEnd, across: wantsAcross },
    }) => {
      const started = performance.now();
      const whole = await askedSketch(caller, of);
      const sketch = part === 'chart' ? chartSketch(whole) : whole;
      const took = (): number => performance.now() - started;
      if (!sketch) return { problems: [], failure: null, windows: [], end: null, across: null, milliseconds: took() };
      const context = await contextFor([]);
      const rows = sketchRows(part === 'chart' ? chartRows(whole) : whole, context);
      const planned = planner(rows, context);
      const across = (at: readonly GroupValue[], depth: number): PlannedRecipe | null =>
        sketch.across
          ? planned([...rows.steps, ...inGroups(sketch, rows.groups, at), ...acrossSteps(sketch, rows, depth)])
          : null;
      const end =
        wantsEnd === 'no' ? null : planned([...rows.steps, ...levelSteps(sketch, rows, 0, wantsEnd === 'counted')]);
      const levels = windows.map((window) => {
        const { steps, shown } = stepsAt(sketch, rows, window);
        const depth = Math.min(window.at.length + window.levels, sketch.groups.length);
        return { window, recipe: planned(steps), across: across(window.at, depth), depth, shown };
      });
      const everyAcross = wantsAcross ? across([], 0) : null;
      const recipes = [end, everyAcross, ...levels.flatMap((level) => [level.recipe, level.across])].filter(
        (recipe) => recipe !== null,
      );
      const wrong = [...rows.problems, ...recipes.flatMap((level) => level.problems)];
      const problems = withText(wrong);
      // With what is wrong left out, other rows would be shown and counted than were asked for.
      if (wrong[0])
        return {
          ...{ problems, failure: failureWith(wrong[0]), windows: null, end: null, across: null },
          milliseconds: took(),
        };
      const { found, failure } = await atDesk(caller, sketch, recipes, signal, async (desk) => {
        // First, since nothing else is shown where there are too many.
        const every = everyAcross && (await acrossOf(desk, everyAcross, null, 0));
        const lines: Lines[] = [];
        for (const { window, recipe, across: over, depth, shown } of levels) {
          // All of them together take no longer than one may.
          if (took() > previewSeconds * 1000)
            throw new RowProblem('query-failed', { detail: phrase('statement-slow', { seconds: previewSeconds }) });
          const answer = await desk.rows(recipe, window.most, window.from);
          const found = shown ? asRows(answer, shown) : asLines(answer);
          lines.push(over && !shown ? { ...found, across: await acrossOf(desk, over, found.lines, depth - 1) } : found);
        }
        const last = end && asLines(await desk.rows(end, 1));
        return {
          windows: lines,
          end: last && { fields: last.fields, line: last.lines[0] ?? [], inside: last.inside[0] ?? null },
          across: every,
        };
      });
      const { windows: all = null, end: last = null, across: every = null } = found ?? {};
      return { problems, failure, windows: all, end: last, across: every, milliseconds: took() };
    },

    'POST /sketch/values': async ({ caller, signal, body: { of, field: path, column: name, search } }) => {
      const whole = await askedSketch(caller, of);
      const own = whole.columns.find((one) => one.name === name);
      if (name !== undefined && (!own || own.ofLine !== undefined))
        throw new ApiError('not-in-sketch', { field: name });
      const isShown = path === undefined ? !own?.hidden : shownPaths(whole).has(path);
      if (!of.sketch && !isShown) throw new ApiError('not-in-sketch', { field: path ?? name ?? '' });
      const context = await contextFor([]);
      const { chart: _, first: __, across: ___, ...rest } = whole;
      const isAbout = (condition: SketchCondition): boolean =>
        'column' in condition
          ? condition.column === name || condition.of !== undefined
          : 'field' in condition && condition.field === path;
      // Those that conditions are about.
      const isNeeded = (column: string): boolean =>
        column !== name && whole.only.some((one) => 'column' in one && one.of === undefined && one.column === column);
      const looked = { ...(own ?? { field: path }), name: 'looked' };
      const sketch: Sketch = {
        ...rest,
        ...{ groups: [], order: [], only: whole.only.filter((condition) => !isAbout(condition)) },
        columns: [...whole.columns.filter((one) => isNeeded(one.name)), looked],
      };
      const rows = sketchRows(sketch, context);
      const column = rows.columns.get('looked');
      const recipe = planner(rows, context)(rows.steps);
      const wrong = [...rows.problems, ...recipe.problems];
      const problems = withText(wrong);
      if (wrong[0] || !column) return { problems, failure: wrong[0] ? failureWith(wrong[0]) : null, found: null };
      const { found, failure } = await atDesk(caller, sketch, [recipe], signal, async (desk) => ({
        field: column,
        ...(await desk.spread(recipe, column, BINS)),
        values: await desk.values(recipe, column.name, search, MOST_VALUES),
      }));
      return { problems, failure, found };
    },
  };
};
