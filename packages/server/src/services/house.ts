import {
  type HouseThing,
  houseTheme,
  libraryPicturesIn,
  type Report,
  readHouseThing,
  THEMES,
  type Theme,
  withLibraryPictures,
} from '@gaveta/core/internal';
import { ApiError } from '../base/api-error.ts';
import type { SeenThing } from '../store/library-store.ts';
import type { Definition } from '../store/schema.ts';
import type { Store } from '../store/store.ts';
import { HOST } from '../store/viewer.ts';
import { type Caller, issuesOf } from './call.ts';
import type { Gate } from './gate.ts';

/** Things that are looked for at once. */
const ALL = { place: 'all', find: '', sort: 'name', descending: false, from: 0, count: 10_000 } as const;

/** A picture or theme as somebody sent it. Throws with what is wrong. */
export const houseThingOf = (json: unknown): HouseThing => {
  const { thing, error } = readHouseThing(json);
  if (error) throw new ApiError('wrong-body', { detail: issuesOf(error) });
  return thing;
};

const themesAmong = async (store: Store, things: readonly SeenThing[]): Promise<Theme[]> => {
  const found = await Promise.all(things.map(({ id }) => store.get(id)));
  return found.flatMap((one) =>
    one?.house && 'gavetaTheme' in one.house ? [{ ...houseTheme(one.house), fromLibrary: one.stored.id }] : [],
  );
};

/** The themes of the library, for what is made for nobody in particular. */
export const allHouseThemes = async (store: Store): Promise<Theme[]> =>
  themesAmong(store, (await store.library.things(HOST, { ...ALL, kind: 'theme' })).things);

/** What reports are made with: themes and pictures of the library, as somebody sees them. */
export class House {
  constructor(
    private readonly store: Store,
    private readonly gate: Gate,
    /** Those of the host. */
    private readonly own: readonly Theme[],
  ) {}

  /** Throws where a theme is called as one of the host’s or of Gaveta’s, which makers would take for it. */
  checkName(definition: Definition): void {
    if (!('gavetaTheme' in definition)) return;
    const { name } = definition;
    if ([...this.own, ...THEMES].some((one) => one.name === name)) throw new ApiError('theme-name-taken', { name });
  }

  async themes(caller: Caller): Promise<Theme[]> {
    const { things } = await this.store.library.things(this.gate.viewer(caller), { ...ALL, kind: 'theme' });
    return themesAmong(this.store, await this.gate.allowed(caller, things));
  }

  /** A report with the pictures of the library that whoever runs it may see. The same report where it shows none. */
  async withPictures(report: Report, caller: Caller): Promise<Report> {
    const ids = libraryPicturesIn(report);
    if (ids.length === 0) return report;
    const found = new Map(await Promise.all(ids.map(async (id) => [id, await this.source(id, caller)] as const)));
    return withLibraryPictures(report, (id) => found.get(id) ?? null);
  }

  private async source(id: string, caller: Caller): Promise<string | null> {
    const thing = await this.store.library.thing(this.gate.viewer(caller), id);
    if (thing?.kind !== 'picture' || (await this.gate.allowed(caller, [thing])).length === 0) return null;
    const house = (await this.store.get(id))?.house;
    return house && 'gavetaPicture' in house ? house.source : null;
  }
}
