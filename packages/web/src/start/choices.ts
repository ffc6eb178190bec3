import {
  type ChosenField,
  type DataType,
  type Entity,
  findEntity,
  type Group,
  type GuidedChoices,
  guidedReport,
  type Model,
  type PageSetup,
  pageSchema,
  type Report,
  reportModel,
  shownFields,
  type Template,
  THEMES,
  type Theme,
  type TotalName,
  templateReport,
} from '@gaveta/core/internal';
import type { ModelWithOrigin, StoredRecipe } from '../api/client.ts';
import { type KnownThemes, themeFor } from '../api/use-themes.ts';
import type { ReportWords } from '../designer/design/blank-report.ts';
import type { NamesIn } from '../i18n/keys.ts';

/** Rows that a report can be made of: a table of a data model, or a recipe. */
export interface RowsChoice {
  id: string;
  label: string;
  /** Where they come from, in a few words. */
  from: string;
  source: GuidedChoices['source'];
  entity: string;
}

export const rowsChoices = (
  models: readonly ModelWithOrigin[],
  recipes: readonly StoredRecipe[],
  recipeWord: string,
): RowsChoice[] => [
  ...models.flatMap((model) =>
    model.entities
      .filter((e) => !e.arguments)
      .map(
        (entity): RowsChoice => ({
          id: `${model.name}/${entity.name}`,
          label: entity.plural,
          from: model.label,
          source: { model: model.name },
          entity: entity.name,
        }),
      ),
  ),
  ...recipes.map(
    (recipe): RowsChoice => ({
      id: `recipe/${recipe.id}`,
      label: recipe.name,
      from: recipeWord,
      source: { queries: [{ name: 'rows', label: recipe.name, recipe: recipe.id }] },
      entity: 'rows',
    }),
  ),
];

/** The model that a choice of rows lies in, with its recipe as a table. */
export const modelOf = (
  rows: RowsChoice,
  models: readonly ModelWithOrigin[],
  recipes: readonly StoredRecipe[],
  frame: Report,
): { model: Model; entity: Entity } | null => {
  const { model } = reportModel(
    { ...frame, ...rows.source },
    { models, recipe: (name) => recipes.find((r) => r.id === name) ?? null },
  );
  const entity = model && findEntity(model, rows.entity);
  return model && entity ? { model, entity } : null;
};

/** Fields of the rows themselves, and of what each of them leads to. */
export const offeredFields = (model: Model, entity: Entity): { label: string; fields: ChosenField[] }[] => [
  { label: entity.plural, fields: shownFields(entity.fields).map((field) => ({ path: [field.name], field })) },
  ...entity.relations
    .filter((r) => r.kind === 'one')
    .flatMap((relation) => {
      const target = findEntity(model, relation.to);
      return target
        ? [
            {
              label: relation.label,
              fields: shownFields(target.fields).map((field) => ({ path: [relation.name, field.name], field })),
            },
          ]
        : [];
    }),
];

/** Totals that a field of a type can have, the likeliest first. */
/** Totals that the guided start offers. */
export type OfferedTotal = Extract<TotalName, NamesIn<'data', 'total_'>>;

export const totalsFor = (type: DataType): readonly OfferedTotal[] => {
  switch (type) {
    case 'number':
      return ['SUM', 'AVERAGE', 'MIN', 'MAX', 'COUNT'];
    case 'date':
    case 'datetime':
      return ['MIN', 'MAX', 'COUNTA', 'COUNTDISTINCT'];
    case 'text':
      return ['COUNTA', 'COUNTDISTINCT'];
    case 'boolean':
    case 'picture':
      return [];
    default:
      return type satisfies never;
  }
};

/** A key that nobody else has. Made without what browsers keep from pages that come without encryption, as inside a house. */
export const newKey = (): string =>
  [...crypto.getRandomValues(new Uint8Array(16))].map((byte) => byte.toString(16).padStart(2, '0')).join('');

/** What the guided start has been told so far. */
export interface GuidedDraft {
  fields: ChosenField[];
  groups: GuidedChoices['groups'];
  totals: GuidedChoices['totals'];
  /** Undefined: the usual one. */
  sort: GuidedChoices['sort'];
  layout: GuidedChoices['layout'];
  chart: boolean;
  /** Null: that of the theme. */
  page: PageSetup | null;
  /** Null: that of the house. */
  theme: string | null;
  /** Null: after the rows. */
  title: string | null;
}

export const emptyDraft = (): GuidedDraft => ({
  fields: [],
  groups: [],
  totals: {},
  sort: undefined,
  layout: 'columns',
  chart: false,
  page: null,
  theme: null,
  title: null,
});

interface Settings {
  rows: RowsChoice;
  themes: KnownThemes;
  words: ReportWords;
  language: string;
  timeZone: string;
}

export const guidedFrom = (draft: GuidedDraft, entity: Entity, settings: Settings): Report =>
  guidedReport({ ...withoutSort(draft), ...shared(draft, settings) }, entity);

/** One that was not chosen is left out. */
const withoutSort = ({ sort, ...draft }: GuidedDraft): Omit<GuidedDraft, 'sort'> & Pick<GuidedChoices, 'sort'> =>
  sort === undefined ? draft : { ...draft, sort };

export const templateFrom = (
  template: Template,
  draft: GuidedDraft,
  found: { model: Model; entity: Entity },
  settings: Settings,
): Report => templateReport(template, shared(draft, settings), found.entity, found.model);

/** The theme that the report of a draft has. */
export const themeOf = (draft: GuidedDraft, themes: KnownThemes): Theme => themeFor(themes, draft.theme, THEMES[1]!);

/** The paper that the report of a draft has. */
export const pageOf = (draft: GuidedDraft, themes: KnownThemes): PageSetup =>
  draft.page ?? themeOf(draft, themes).page ?? pageSchema.parse({});

const shared = (draft: GuidedDraft, { rows, words, language, timeZone, themes }: Settings) => ({
  page: pageOf(draft, themes),
  theme: themeOf(draft, themes),
  title: draft.title ?? rows.label,
  source: rows.source,
  entity: rows.entity,
  words,
  language,
  timeZone,
});

/** Periods that a date is grouped by, the likeliest first. */
export const groupPeriod = (type: string): Group['per'] => (type === 'date' || type === 'datetime' ? 'month' : 'value');
