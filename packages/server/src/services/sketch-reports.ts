import { type Report, type Sketch, sketchReport, THEMES, type Theme } from '@gaveta/core/internal';
import type { Catalogue } from '../catalogue/catalogue.ts';
import type { Store } from '../store/store.ts';
import { allHouseThemes } from './house.ts';
import { recipeContext } from './looking.ts';
import { definitionOf } from './stored-reports.ts';

/** The report of a sketch over the models as they are now, in the theme that it names. */
export const sketchReports =
  (store: Store, catalogue: Catalogue, themes: readonly Theme[]) =>
  async (sketch: Sketch): Promise<Report> => {
    const context = await recipeContext(store, catalogue);
    const named = ({ name }: Theme): boolean => name === sketch.theme;
    const given = [...themes, ...THEMES].find(named);
    const theme = given ?? (sketch.theme ? (await allHouseThemes(store)).find(named) : undefined) ?? themes[0];
    return definitionOf(JSON.parse(JSON.stringify(sketchReport(sketch, context, { theme }))));
  };
