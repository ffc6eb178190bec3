import { planReport } from '../data/plan.ts';
import { type PageSetup, type Parameter, pageSchema, type Report, reportSchema } from '../definition/schema.ts';
import { THEMES } from '../edit/themes.ts';
import type { Model } from '../model/model.ts';
import { problemLine } from '../problems/problem.ts';
import { type DrawerState, EMPTY_DRAWER, layOut } from './lay-out.ts';
import { RowsBuilder } from './rows-builder.ts';
import type { EntityName, TypedModel } from './typed-model.ts';

/** What a report is made with; everything may be left out. */
export interface ReportSettings {
  /** BCP 47 tag; `en` when left out. */
  language?: string;
  /** IANA name; `UTC` when left out. */
  timeZone?: string;
  /** A4, upright, with margins of 15 mm when left out. */
  paper?: Partial<PageSetup>;
  /** Name of a theme, as `Pine`. */
  theme?: string;
  /** Words that the report itself shows, in its language; English when left out. */
  words?: Partial<ReportWords>;
}

export interface ReportWords {
  page: string;
  of: string;
  total: string;
}

/** A parameter without its name. */
export type ParameterInput = Omit<Parameter, 'name'>;

/** What all parts of a report that is being built share. */
export interface ReportState {
  name: string;
  model: Model;
  settings: ReportSettings;
  parameters: readonly Parameter[];
}

/** A report that has no rows yet. */
export class ReportBuilder<S> {
  constructor(private readonly state: ReportState) {}

  /** Adds a parameter, which formulas read as `parameters.name`. */
  parameter(name: string, input: ParameterInput): ReportBuilder<S> {
    const { parameters } = this.state;
    return new ReportBuilder({ ...this.state, parameters: [...parameters, { name, ...input }] });
  }

  /** Takes the rows of an entity. */
  rows<E extends EntityName<S>>(entity: E): RowsBuilder<S, E> {
    return new RowsBuilder<S, E>(this.state, entity, EMPTY_DRAWER, finished);
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
export const report = <S>(name: string, model: TypedModel<S>, settings: ReportSettings = {}): ReportBuilder<S> =>
  new ReportBuilder<S>({ name, model: model.model, settings, parameters: [] });
