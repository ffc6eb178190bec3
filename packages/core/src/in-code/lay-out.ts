import type { Drawer, PageSetup, Report } from '../definition/schema.ts';
import { drawersOf, findDrawer } from '../definition/walk.ts';
import { themeEdit } from '../edit/apply-theme.ts';
import { applyEdit } from '../edit/edit.ts';
import { reportFrame } from '../edit/guided.ts';
import { groupBands, INDENT, withColumns } from '../edit/guided-columns.ts';
import { freeName, freshId, idMaker } from '../edit/ids.ts';
import { type OwnTheme, ownThemes } from '../edit/own-themes.ts';
import { roomOf } from '../edit/paper.ts';
import type { Placeable } from '../edit/placing.ts';
import { findTheme, THEMES, type Theme } from '../edit/themes.ts';
import { type Entity, findEntity, type Model, namedField, type Relation, shownFields } from '../model/model.ts';
import { saidValue } from '../problems/phrases.ts';
import { didYouMean, hasPhrase, therePhrase } from '../problems/suggest.ts';
import type { DataType } from '../value/value.ts';
import type { DrawerState } from './asked.ts';

export interface LayOutSettings {
  name: string;
  model: Model;
  entity: string;
  language: string;
  timeZone: string;
  /** One of Gaveta’s by its name, or one of the host’s own. */
  theme: string | OwnTheme;
  page: PageSetup;
  words: { page: string; of: string; total: string };
}

/** How far an inner drawer stands in from the one around it, in millimetres. */
const STEP = 8;

/** The report with its rows in columns. Throws where a name is none of the model's. */
export const layOut = (drawer: DrawerState, settings: LayOutSettings): Report => {
  const { name, model, language, timeZone, page, words } = settings;
  const theme = themeOf(settings.theme);
  const frame: Report = { ...reportFrame(name, page, words, theme), language, timeZone, model: model.name };
  const entity = findEntity(model, settings.entity);
  if (!entity) throw unknown('entity', settings.entity, names(model.entities), 'there');
  const made = new Layer(settings).put(frame, null, { rows: { entity: entity.name }, entity, drawer, from: 0 });
  return applyEdit(made, themeEdit(made, theme));
};

const themeOf = (given: string | OwnTheme): Theme => {
  const theme = typeof given === 'string' ? findTheme(given) : ownThemes([given], null)[0];
  if (!theme) throw unknown('theme', String(given), names(THEMES), 'there');
  return theme;
};

const names = (list: readonly { name: string }[]): string[] => list.map(({ name }) => name);

const unknown = (what: string, name: string, known: readonly string[], has: 'there' | 'it'): Error => {
  const hint = didYouMean(name, known, has === 'there' ? therePhrase(known) : hasPhrase(known));
  return new Error(`There is no ${what} “${name}”. ${saidValue(hint)}`);
};

interface Layed {
  rows: Drawer['rows'];
  entity: Entity;
  drawer: DrawerState;
  /** Where it starts, in millimetres. */
  from: number;
}

/** Puts drawers into a report, each with those in it. */
class Layer {
  constructor(private readonly settings: LayOutSettings) {}

  put(report: Report, parent: string | null, { rows, entity, drawer: asked, from }: Layed): Report {
    const { words } = this.settings;
    const taken = new Set([...drawersOf(report)].map(({ drawer }) => drawer.name));
    const id = freshId(report, entity.name);
    const total = asked.totals.length > 0 ? words.total : null;
    const paths = asked.groups.map(({ field, ...group }) => ({
      path: this.field(entity, asked, field).path,
      ...group,
    }));
    const room = roomOf(report.page);
    const groups = groupBands(paths, { idFor: idMaker(report), left: from, room, total });
    for (const { by } of asked.sort) this.field(entity, asked, by);
    const drawer: Drawer = {
      id,
      name: freeName(entity.name, taken),
      rows,
      ...(asked.calculated.length > 0 ? { calculated: asked.calculated.map(({ type: _, ...given }) => given) } : {}),
      ...(asked.filters.length > 0 ? { filter: allOf(asked.filters) } : {}),
      ...(asked.sort.length > 0 ? { sort: [...asked.sort] } : {}),
      ...(asked.first === undefined ? {} : { first: asked.first }),
      ...(asked.onlyWithInner ? { onlyWithInner: true } : {}),
      ...(groups.length > 0 ? { groups } : {}),
    };
    const placed: Report = parent
      ? applyEdit(report, {
          do: 'addDrawer',
          parent,
          at: findDrawer(report, parent)!.drawer.drawers?.length ?? 0,
          drawer,
        })
      : { ...report, body: [drawer] };
    let made = this.columns(placed, id, entity, asked, from);
    for (const { relation, drawer: inner } of asked.inner) {
      const { name, to } = this.relation(entity, relation);
      const step = from + groups.length * INDENT + STEP;
      made = this.put(made, id, { rows: { relation: name }, entity: to, drawer: inner, from: step });
    }
    return made;
  }

  private columns(report: Report, id: string, entity: Entity, asked: DrawerState, from: number): Report {
    const { drawer } = findDrawer(report, id)!;
    const fields = asked.columns.map((column): Placeable => {
      const found = this.field(entity, asked, column.field);
      return { label: column.label ?? found.label, type: found.type, drawer, path: found.path };
    });
    const totals = asked.totals.map(({ path, name }) => {
      const at = asked.columns.findIndex(({ field }) => field === path);
      if (at < 0) throw new Error(`“${path}” cannot be added up below its column: it is none. Add it to columns().`);
      return { field: fields[at]!, name };
    });
    return withColumns(report, {
      drawer: id,
      fields,
      totals,
      from,
      room: roomOf(report.page),
      total: this.settings.words.total,
      widths: asked.columns.map(({ width }) => width),
      formats: asked.columns.map(
        ({ field, format }) => format ?? asked.calculated.find(({ name }) => name === field)?.format,
      ),
    });
  }

  /** What a path leads to, from an entity or among the fields that its drawer calculates. */
  private field(
    entity: Entity,
    { calculated }: DrawerState,
    path: string,
  ): { label: string; type: DataType; path: string[] } {
    const own = calculated.find(({ name }) => name === path);
    if (own) return { label: own.label ?? own.name, type: own.type, path: [path] };
    const parts = path.split('.');
    let at = entity;
    for (const part of parts.slice(0, -1)) {
      const relation = at.relations.find(({ name, kind }) => name === part && kind === 'one');
      if (!relation)
        throw unknown('relation to one row', part, names(at.relations.filter(({ kind }) => kind === 'one')), 'it');
      at = this.entityOf(relation);
    }
    const found = namedField(at.fields, parts.at(-1));
    if (!found || found === 'hidden') {
      const known = [...names(shownFields(at.fields)), ...(at === entity ? names(calculated) : [])];
      throw unknown(`field of “${at.name}”`, parts.at(-1)!, known, 'it');
    }
    return { label: found.label, type: found.type, path: parts };
  }

  private relation(entity: Entity, name: string): { name: string; to: Entity } {
    const many = entity.relations.filter(({ kind }) => kind === 'many');
    const relation = many.find((one) => one.name === name);
    if (!relation) throw unknown(`relation of “${entity.name}” to many rows`, name, names(many), 'it');
    return { name, to: this.entityOf(relation) };
  }

  private entityOf({ to }: Relation): Entity {
    const { model } = this.settings;
    const entity = findEntity(model, to);
    if (!entity) throw unknown('entity', to, names(model.entities), 'there');
    return entity;
  }
}

const allOf = (filters: readonly string[]): string =>
  filters.length === 1 ? filters[0]! : `AND(${filters.join('; ')})`;
