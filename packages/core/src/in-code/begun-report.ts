import { planReport } from '../data/plan.ts';
import { pageSchema, type Report, reportSchema } from '../definition/schema.ts';
import { THEMES } from '../edit/themes.ts';
import { problemLine } from '../problems/problem.ts';
import {
  type DrawerState,
  EMPTY_DRAWER,
  type ParameterInput,
  type ReportSettings,
  type ReportState,
  type ReportWords,
} from './asked.ts';
import { BegunRows } from './begun-rows.ts';
import { layOut } from './lay-out.ts';
import type { EntityName, TypedModel } from './typed-model.ts';

/** A report that has no rows yet. */
export class BegunReport<S> {
  constructor(private readonly state: ReportState) {}

  /** Adds a parameter, which formulas read as `parameters.name`. */
  parameter(name: string, input: ParameterInput): BegunReport<S> {
    const { parameters } = this.state;
    return new BegunReport({ ...this.state, parameters: [...parameters, { name, ...input }] });
  }

  /** Takes the rows of an entity. */
  rows<E extends EntityName<S>>(entity: E): BegunRows<S, E> {
    return new BegunRows<S, E>(this.state, entity, EMPTY_DRAWER, finished);
  }
}

const WORDS: ReportWords = { page: 'Page', of: 'of', total: 'Total' };

/** The whole definition of a report whose rows are described. Throws where it is wrong, with every problem and its place. */
const finished = ({ name, model, settings, parameters }: ReportState, entity: string, drawer: DrawerState): Report => {
  const { language = 'en', timeZone = 'UTC', paper = {}, theme = THEMES[0]!.name, words } = settings;
  const laidOut = layOut(drawer, {
    name,
    model,
    entity,
    language,
    timeZone,
    theme,
    page: pageSchema.parse(paper),
    words: { ...WORDS, ...words },
  });
  const definition = reportSchema.parse({ ...laidOut, parameters });
  const wrong = planReport(definition, { models: [model], report: () => null }).problems.filter(
    ({ severity }) => severity === 'error',
  );
  if (wrong.length > 0)
    throw new Error(`The report “${name}” cannot be used:\n  ${wrong.map(problemLine).join('\n  ')}`);
  return definition;
};

/**
 * Begins a report over a data model: `report('Ledger', model).rows('stay').columns('arrival', 'nights').definition()`. With a model
 * whose shape is known, the compiler knows every name that is wrong.
 */
export const report = <S>(name: string, model: TypedModel<S>, settings: ReportSettings = {}): BegunReport<S> =>
  new BegunReport<S>({ name, model: model.model, settings, parameters: [] });
