import { and, eq, type SQL, sql } from 'drizzle-orm';
import { entryOf } from './entries.ts';
import type { StoreDatabase } from './opened-database.ts';
import { recipes, reports, revisions } from './schema.ts';

/** Characters of what a definition says that are gathered; a tsvector holds a megabyte. */
const MOST = 200_000;

/** Longer texts are pictures and other files. */
const LONGEST = 5000;

/** Keys whose texts nobody looks for. */
const NOT_WORDS: ReadonlySet<string> = new Set(['id', 'kind', 'color', 'fill', 'font', 'align', 'data', 'step', 'is']);

/** Words without accents, capitals and signs, apart by blanks. */
export const plainWords = (text: string): string =>
  text
    .normalize('NFD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim();

/** What a definition says: its texts, formulas, and the names of tables and fields, each word once. */
const wordsIn = (definition: object): string => {
  const found = new Set<string>();
  let size = 0;
  JSON.stringify(definition, (key, value: unknown) => {
    if (typeof value !== 'string' || NOT_WORDS.has(key) || value.length > LONGEST || size > MOST) return value;
    for (const word of plainWords(value).split(' ')) {
      if (found.has(word)) continue;
      found.add(word);
      size += word.length + 1;
    }
    return value;
  });
  return [...found].join(' ');
};

const vector = (words: string): SQL<string> => sql`to_tsvector('simple', ${words})`;

/** Gathers anew what a thing is found by: of its newest revision, and of that which readers see. */
export const gatherWords = async (on: Pick<StoreDatabase, 'select' | 'update'>, id: string): Promise<void> => {
  const ofRevision = (number: typeof reports.revision | typeof reports.published) =>
    on
      .select()
      .from(reports)
      .innerJoin(revisions, and(eq(revisions.reportId, reports.id), eq(revisions.number, number)))
      .where(eq(reports.id, id));
  const entry = entryOf(id);
  if (entry) return gatherEntry(on, id, entry.kind === 'recipe' ? entry.key : null);
  const [newest] = await ofRevision(reports.revision);
  if (!newest) return;
  const { name, note, tags, published, revision } = newest.report;
  const about = plainWords([name, note, ...tags].join(' '));
  const wordsOf = (definition: object): SQL<string> => vector(`${about} ${wordsIn(definition)}`);
  const search = wordsOf(newest.revision.definition);
  const [seen] = published === null || published === revision ? [] : await ofRevision(reports.published);
  const publishedSearch = published === revision ? search : seen ? wordsOf(seen.revision.definition) : null;
  const nameSearch = vector(plainWords(name));
  await on.update(reports).set({ search, nameSearch, publishedSearch }).where(eq(reports.id, id));
};

/** Those of what has no revisions: all that there is of a connection, and the steps of a recipe. */
const gatherEntry = async (
  on: Pick<StoreDatabase, 'select' | 'update'>,
  id: string,
  recipe: string | null,
): Promise<void> => {
  const [row] = await on.select().from(reports).where(eq(reports.id, id));
  if (!row) return;
  const [said] = recipe === null ? [] : await on.select().from(recipes).where(eq(recipes.id, recipe));
  const about = plainWords([row.name, row.note, ...row.tags].join(' '));
  const search = vector(`${about} ${said ? wordsIn({ steps: said.steps, parameters: said.parameters }) : ''}`);
  const set = { search, publishedSearch: search, nameSearch: vector(plainWords(row.name)) };
  await on.update(reports).set(set).where(eq(reports.id, id));
};

/** What finds every word that begins as one of these does; null where there is none. */
export const wanted = (text: string): SQL | null => {
  const words = plainWords(text).split(' ').filter(Boolean);
  if (words.length === 0) return null;
  return sql`to_tsquery('simple', ${words.map((word) => `${word}:*`).join(' & ')})`;
};
