import { z } from '../definition/zod.ts';
import type { CallContract } from './call.ts';
import * as part from './parts.ts';
import { ACCESS_LEVELS, ACTS, LIBRARY_KINDS, PUBLISHINGS } from './rights.ts';

const name = z.string().trim().min(1).max(200);
const note = z.string().max(500);
const tags = z.array(z.string().trim().min(1).max(60)).max(20);
const level = z.enum(ACCESS_LEVELS);
const publishing = z.enum(PUBLISHINGS);
const moment = z.string().describe('a moment as ISO 8601');

/** A person, a group, or everybody. */
const principal = z
  .string()
  .max(220)
  .regex(/^(?:everybody|(?:user|group):[^\s].*)$/su, '“user:” or “group:” with a name, or “everybody”');

const folder = z.object({
  id: z.string(),
  /** Null at the top, and where the folder around it may not be seen. */
  parent: z.string().nullable(),
  name: z.string(),
  note: z.string(),
  owner: z.string().nullable(),
  isPersonal: z.boolean().describe('The owner’s own, which nobody else sees unless they are let.'),
  isForeign: z.boolean().describe('In the own folder of somebody else.'),
  inherits: z.boolean().describe('What somebody may do with the folder around it, they may do with it too.'),
  publishing: publishing.describe('How revisions of what is in it come before readers.'),
  ownPublishing: publishing.nullable().describe('Null: as in the folder around it.'),
  may: level.describe('What the caller may do with it.'),
  things: z.number().describe('How many things are in it, those of inner folders left out.'),
});

const access = z.object({
  /** From the thing or folder outwards, as far as what holds there holds for it. */
  places: z.array(
    z.object({
      here: z.boolean(),
      /** Null: of a folder that the caller may not see. */
      name: z.string().nullable(),
      owner: z.string().nullable(),
      inherits: z.boolean(),
      grants: z.array(z.object({ principal: z.string(), may: level, by: z.string(), at: moment })),
    }),
  ),
});

const link = z.object({
  id: z.string(),
  label: z.string().describe('Who it is for.'),
  by: z.string(),
  values: part.valueSet.shape.values,
  madeAt: moment,
  endsAt: moment,
  revokedAt: moment.nullable(),
  opened: z.number(),
  openedAt: moment.nullable(),
  address: z.string().nullable().describe('Below that of Gaveta; null: it leads nowhere any more.'),
});

const accessChange = z.union([
  z.strictObject({ principal, may: level.nullable().describe('Null: takes away what was granted here.') }),
  z.strictObject({ inherits: z.boolean() }),
]);

/** The library: folders, what is in them, who may do what with it, and what readers see of it. */
export const LIBRARY_CALLS = {
  'GET /folders': {
    does: 'The folders that the caller sees, by name; “root” is the one that all are in.',
    needs: 'view',
    gives: z.object({
      folders: z.array(folder),
      decides: z
        .enum(['library', 'host'])
        .describe('Whether what was granted here says who may do what, or the application’s own function.'),
    }),
  },
  'POST /folders': {
    does: 'Creates a folder in another one.',
    needs: 'design',
    body: z.strictObject({ name, note: note.default(''), parent: part.id.default('root') }),
    gives: folder,
    status: 201,
  },
  'PUT /folders/:id': {
    does: 'Renames a folder, moves it into another one, or says how what is in it is published.',
    needs: 'design',
    body: z.strictObject({
      name: name.optional(),
      note: note.optional(),
      parent: part.id.optional(),
      publishing: publishing.nullable().optional(),
    }),
    gives: folder,
  },
  'DELETE /folders/:id': {
    does: 'Deletes a folder with all that is in it, which can be restored for 30 days.',
    needs: 'design',
    gives: 'nothing',
    status: 204,
  },
  'POST /folders/:id/restore': {
    does: 'Brings a deleted folder back with all that was in it.',
    needs: 'design',
    gives: folder,
  },
  'GET /folders/:id/access': { does: 'Who may do what with a folder.', needs: 'design', gives: access },
  'PUT /folders/:id/access': {
    does: 'Grants something on a folder, takes it away, or says whether what holds around it holds here too.',
    needs: 'design',
    body: accessChange,
    gives: access,
  },

  'GET /folders/:id/files': {
    does: 'A folder with all that the caller sees in it as files: a definition for each thing, and what is told of each folder.',
    needs: 'design',
    gives: z.object({
      files: z.array(z.object({ path: z.string(), text: z.string() })),
      revisions: z.record(z.string(), z.number()).describe('The newest revision of each thing, by its id.'),
    }),
  },
  'POST /folders/:id/files': {
    does: 'What files would change in a folder; with “apply” they do. Nothing is deleted. Ids stay with the right “manage”; without it what is new gets others.',
    needs: 'design',
    body: z.strictObject({
      files: z.array(z.strictObject({ path: z.string().min(1).max(2000), text: z.string().max(9_000_000) })).max(2000),
      apply: z.boolean().default(false),
      expect: z
        .record(z.string().max(120), z.number().int())
        .default({})
        .describe('Revisions that the files were made from: what has another one by now is left as it is.'),
    }),
    gives: z.object({
      changes: z.array(
        z.object({
          path: z.string(),
          id: z.string(),
          kind: z.enum([...LIBRARY_KINDS, 'folder']),
          name: z.string(),
          what: z.enum(['added', 'changed', 'moved', 'same', 'conflict', 'refused']),
          revision: z.number().nullable().describe('The newest one now; null: there is none yet.'),
          problems: z.array(z.string()).describe('Why it is refused, in words.'),
        }),
      ),
    }),
  },

  'GET /library': {
    does: 'What the caller sees in a folder or of another kind, found by words, in some order.',
    needs: 'view',
    query: z.object({
      place: z.enum(['folder', 'all', 'recent', 'starred', 'mine', 'shared']).default('all'),
      folder: part.id.optional(),
      kind: z.enum([...LIBRARY_KINDS, 'template']).optional(),
      find: z.string().max(200).default(''),
      sort: z.enum(['best', 'name', 'changed', 'opened']).default('name'),
      descending: z
        .enum(['true', 'false'])
        .default('false')
        .transform((value) => value === 'true'),
      from: z.coerce.number().int().min(0).max(1_000_000).default(0),
      count: z.coerce.number().int().min(1).max(200).default(100),
    }),
    gives: z.object({
      things: z.array(part.libraryThing),
      more: z.boolean().describe('There are others after them.'),
    }),
  },
  'GET /library/bin': {
    does: 'What was deleted and the caller can restore, newest first.',
    needs: 'design',
    gives: z.array(
      z.object({
        kind: z.enum([...LIBRARY_KINDS, 'folder']),
        id: z.string(),
        name: z.string(),
        deletedAt: moment,
      }),
    ),
  },
  'POST /library': {
    does: 'Keeps a picture or a theme.',
    needs: 'design',
    body: z.strictObject({ definition: part.definition, ...part.whereNew }),
    gives: part.libraryThing,
    status: 201,
  },
  'GET /library/:id': { does: 'One thing of the library.', needs: 'view', gives: part.libraryThing },
  'GET /library/:id/definition': {
    does: 'A picture or a theme as it is kept.',
    needs: 'design',
    gives: z.object({ definition: part.houseThing, revision: z.number() }),
  },
  'PUT /library/:id/definition': {
    does: 'Keeps a picture or theme anew, changed from the revision “base”: reports that show the picture show it from then on.',
    needs: 'design',
    body: z.strictObject({ definition: part.definition, base: part.revisionNumber }),
    gives: part.libraryThing,
  },
  'GET /library/:id/users': {
    does: 'What uses a thing, as far as the caller sees it, and deliveries of it, which have the name “…” where they are not the caller’s.',
    needs: 'design',
    gives: z.array(z.object({ kind: z.enum([...LIBRARY_KINDS, 'delivery']), id: z.string(), name: z.string() })),
  },
  'POST /library/:id/theme': {
    does: 'What a theme changes in reports; with “apply” it does.',
    needs: 'design',
    body: z.strictObject({
      reports: z.array(part.id).min(1).max(200),
      apply: z.boolean().default(false),
      note: note.default(''),
    }),
    gives: z.array(
      z.object({
        id: z.string(),
        name: z.string(),
        what: z.enum(['changed', 'same', 'refused']),
        changes: part.changes,
        problem: z.string().nullable().describe('Why it is refused, in words.'),
      }),
    ),
  },
  'GET /library/:id/picture': {
    does: 'The first page of a thing as the caller sees it, as a small picture. One that is missing or old is made in the background.',
    needs: 'view',
    gives: z.object({
      state: z
        .enum(['ready', 'making', 'none'])
        .describe('none: there is none to be had, as of a report that asks for values.'),
      png: z.string().nullable().describe('A PNG in Base64; while another one is made, that before it.'),
    }),
  },
  'PUT /library/:id': {
    does: 'Renames a thing, which saves a revision; gives it a note or tags; makes it a template; or moves it into another folder.',
    needs: 'design',
    body: z.strictObject({
      name: name.optional(),
      note: note.optional(),
      tags: tags.optional(),
      folder: part.id.optional(),
      isTemplate: z.boolean().optional().describe('Whether new reports may begin as it is; of reports alone.'),
    }),
    gives: part.libraryThing,
  },
  'POST /library/:id/copy': {
    does: 'Copies a thing as the caller sees it, into a folder or beside it.',
    needs: 'design',
    body: z.strictObject({ name: name.optional(), folder: part.id.optional() }),
    gives: part.libraryThing,
    status: 201,
  },
  'PUT /library/:id/star': {
    does: 'Stars a thing for the caller, or takes the star away.',
    needs: 'view',
    body: z.strictObject({ starred: z.boolean() }),
    gives: part.libraryThing,
  },
  'GET /library/:id/access': { does: 'Who may do what with a thing.', needs: 'design', gives: access },
  'PUT /library/:id/access': {
    does: 'Grants something on a thing, takes it away, or says whether what holds for its folder holds for it too.',
    needs: 'design',
    body: accessChange,
    gives: access,
  },
  'GET /people': {
    does: 'People and groups that came before, whose names have these letters: at most 20. For those who may decide about something.',
    needs: 'design',
    query: z.object({ search: z.string().max(200).default('') }),
    gives: z.array(z.string()),
  },

  'GET /reports/:id/links': {
    does: 'Links of a report by which people without an account read it, the newest first; also those that have ended.',
    needs: 'design',
    gives: z.array(link),
  },
  'POST /reports/:id/links': {
    does: 'Makes a link by which people without an account read a report with these values, and the rows that the caller sees.',
    needs: 'design',
    body: z.strictObject({
      label: z.string().trim().min(1).max(120),
      days: z.number().int().min(1).max(3650),
      values: part.parameterValues,
    }),
    gives: link,
    status: 201,
  },
  'DELETE /reports/:id/links/:link': {
    does: 'Revokes a link.',
    needs: 'design',
    gives: 'nothing',
    status: 204,
  },
  'GET /activity': {
    does: 'Who did what with things that the caller may manage, the newest first.',
    needs: 'design',
    query: z.object({
      thing: part.id.optional(),
      user: z.string().max(200).optional(),
      act: z.enum(ACTS).optional(),
      find: z.string().max(200).default(''),
      from: z.iso.datetime({ offset: true }).optional(),
      until: z.iso.datetime({ offset: true }).optional(),
      before: z.coerce.number().int().min(1).max(Number.MAX_SAFE_INTEGER).optional(),
      count: z.coerce.number().int().min(1).max(200).default(100),
    }),
    gives: z.array(
      z.object({
        id: z.number(),
        at: moment,
        user: z.string(),
        act: z.enum(ACTS),
        thing: z.string().nullable(),
        name: z.string().describe('What it was called then.'),
        data: z.record(z.string(), z.unknown()),
      }),
    ),
  },

  'GET /reports/:id/publications': {
    does: 'What readers came to see of a report or sketch, and what was taken back; newest first.',
    needs: 'design',
    gives: z.array(
      z.object({
        revision: z.number().nullable().describe('Null: none.'),
        by: z.string(),
        note: z.string(),
        at: moment,
      }),
    ),
  },
  'POST /reports/:id/publish': {
    does: 'Lets readers see a revision from now on; “revision” null takes back what they see.',
    needs: 'design',
    body: z.strictObject({ revision: part.revisionNumber.nullable(), note: note.default('') }),
    gives: part.libraryThing,
  },
  'POST /reports/:id/ask': {
    does: 'Asks for a revision to be published by somebody else; “revision” null asks no more.',
    needs: 'design',
    body: z.strictObject({ revision: part.revisionNumber.nullable(), note: note.default('') }),
    gives: part.libraryThing,
  },
} as const satisfies Record<string, CallContract>;
