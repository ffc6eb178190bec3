import {
  inLanguage,
  keepingAway,
  languageOfRun,
  languagesOf,
  type Model,
  type Report,
  readDefinition,
} from '@gaveta/core/internal';
import type { PresenceBook } from '../access/presence.ts';
import { ApiError } from '../base/api-error.ts';
import { withText } from '../base/problem-text.ts';
import type { Store } from '../store/store.ts';
import type { ActivityBook } from './activity.ts';
import type { Caller, Calls } from './call.ts';
import type { DefinitionRights } from './definition-rights.ts';
import type { Gate } from './gate.ts';
import { definitionOf, pathToItself, shownDefinition, usersOfReport } from './stored-reports.ts';
import { whereNew } from './where-new.ts';

type ReportCalls =
  | 'GET /reports'
  | 'POST /reports'
  | 'GET /reports/:id'
  | 'PUT /reports/:id'
  | 'DELETE /reports/:id'
  | 'POST /reports/:id/restore'
  | 'GET /reports/:id/users'
  | 'GET /reports/:id/revisions'
  | 'GET /reports/:id/revisions/:number'
  | 'POST /reports/:id/presence'
  | 'GET /drafts'
  | 'GET /drafts/:key'
  | 'PUT /drafts/:key'
  | 'DELETE /drafts/:key';

/** Stored reports with their revisions, work that is not saved, and who is at work on a report. */
export const reportService = (
  store: Store,
  rights: DefinitionRights,
  presence: PresenceBook,
  gate: Gate,
  /** Told of what somebody saved. */
  saved: (id: string, caller: Caller) => void,
  book: ActivityBook,
  /** The data models, whose labels reports say. */
  models: () => readonly Model[],
): Calls<ReportCalls> => {
  const keepingAwayIn = async (report: Report): Promise<string[]> => {
    const isShared = (report.queries ?? []).some(({ recipe }) => recipe !== undefined);
    const recipes = isShared ? await store.data.recipes() : [];
    return keepingAway(report, (id) => recipes.find((recipe) => recipe.id === id) ?? null);
  };
  return {
    'GET /reports': ({ caller }) => gate.list(caller),
    'POST /reports': async ({ caller, body: { definition, folder: asked, note } }) => {
      await gate.checkCreate(caller);
      const folder = await gate.folderFor(caller, asked ?? null);
      await rights.check(caller, definition);
      await gate.checkNested(caller, definition);
      const report = definitionOf(definition);
      await gate.beforeSave({ id: null, definition: report, sketch: null, caller: caller.session });
      const made = await store.create(report, caller.user, undefined, whereNew(caller, folder, note));
      saved(made.id, caller);
      book.note(caller, 'created', made);
      return made;
    },
    'GET /reports/:id': async ({ caller, params: { id }, query: { which, language } }) => {
      const { stored, report, revision: shown } = await gate.stored(caller, 'view', id, which);
      const read =
        language === undefined ? report : inLanguage(report, languageOfRun(report, { reader: language }), models());
      const definition = caller.may('design') ? read : shownDefinition(read);
      const languages = languagesOf(report);
      return { ...stored, definition, languages, shown, keepingAway: await keepingAwayIn(report) };
    },
    'PUT /reports/:id': async ({ caller, params: { id }, body: { definition, base, note } }) => {
      const thing = await gate.checkId(caller, 'change', id);
      // A sketch is saved as one.
      if (thing.kind !== 'report') throw new ApiError('unknown-report', { id });
      await rights.check(caller, definition);
      await gate.checkNested(caller, definition);
      const report = definitionOf(definition);
      const path = await pathToItself(store, report, id);
      if (path) {
        const seen = await gate.seen(caller);
        const names = path.map((one) => (seen.has(one.id) ? one.name : '…'));
        throw new ApiError('contains-itself', { path: names.join(' → ') });
      }
      await gate.beforeSave({ id, definition: report, sketch: null, caller: caller.session });
      const done = await store.save(id, report, base, caller.user, note, thing.publishing === 'each-save');
      if (done.ok) {
        saved(id, caller);
        book.note(caller, 'saved', done.stored, { revision: done.stored.revision, note });
        return { ...done.stored, folder: thing.folder };
      }
      if (done.reason === 'missing') throw new ApiError('unknown-report', { id });
      const { current } = done;
      throw new ApiError('conflict', { author: current.changedBy, revision: current.revision }, { current });
    },
    'DELETE /reports/:id': async ({ caller, params: { id } }) => {
      const thing = await gate.checkId(caller, 'delete', id);
      // Those have calls of their own.
      if (thing.kind === 'recipe' || thing.kind === 'connection') throw new ApiError('unknown-report', { id });
      await store.setAside(id);
      book.note(caller, 'deleted', thing);
      return undefined;
    },
    'POST /reports/:id/restore': async ({ caller, params: { id } }) => {
      const { folder } = await gate.deleted(caller, id);
      const stored = await store.restore(id);
      if (!stored) throw new ApiError('unknown-report', { id });
      book.note(caller, 'restored', stored);
      return { ...stored, folder };
    },
    'GET /reports/:id/users': async ({ caller, params: { id } }) => {
      await gate.checkId(caller, 'view', id);
      const seen = await gate.seen(caller);
      return (await usersOfReport(store, id)).filter((user) => seen.has(user.id));
    },
    'GET /reports/:id/revisions': async ({ caller, params: { id } }) => {
      await gate.checkId(caller, 'change', id);
      return store.revisions(id);
    },
    'GET /reports/:id/revisions/:number': async ({ caller, params: { id, number } }) => {
      await gate.checkId(caller, 'change', id);
      const { read } = (/^\d{1,9}$/.test(number) ? await store.revision(id, Number(number)) : null) ?? {};
      if (!read) throw new ApiError('unknown-revision', { id, number });
      if (!read.ok) throw new ApiError('wrong-definition', {}, { problems: withText(read.problems) });
      return read.report;
    },
    'POST /reports/:id/presence': async ({ caller, params: { id }, body: { window, leaving } }) => {
      if (leaving) {
        await presence.leave(id, window);
        return { others: [], stored: null };
      }
      const stored = await gate.checkId(caller, 'view', id);
      return { others: await presence.notice(id, window, caller.user), stored };
    },

    'GET /drafts': ({ caller }) => store.drafts.list(caller.owner),
    'GET /drafts/:key': async ({ caller, params: { key } }) => {
      const found = await store.drafts.get(caller.owner, key);
      if (!found) return null;
      if (!found.read.ok) throw new ApiError('wrong-definition', {}, { problems: withText(found.read.problems) });
      const { report } = found.read;
      return { ...found.head, definition: report, keepingAway: await keepingAwayIn(report) };
    },
    'PUT /drafts/:key': async ({ caller, params: { key }, body: { definition, report, base } }) => {
      // Whatever else is wrong with it, work is not lost.
      await rights.checkStatements(caller, definition);
      const read = readDefinition(definition);
      if (!read.ok) throw new ApiError('wrong-definition', {}, { problems: withText(read.problems) });
      if (report !== null) await gate.checkId(caller, 'view', report);
      return store.drafts.put(caller.owner, key, { report, base, definition: read.report });
    },
    'DELETE /drafts/:key': async ({ caller, params: { key }, query: { savedAt } }) => {
      await store.drafts.remove(caller.owner, key, savedAt ?? null);
      return undefined;
    },
  };
};
