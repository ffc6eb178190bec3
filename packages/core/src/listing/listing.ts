import type { PlannedBand, PlannedDrawer, PlannedItem, ReportPlan } from '../data/planned.ts';
import type { Item, Report } from '../definition/schema.ts';
import { allBands } from '../definition/walk.ts';
import { type Checked, formulaKey, nodes, pageDependence } from '../formula/checked.ts';
import { itemListing } from '../items/listings.ts';
import { stepName } from '../model/lookup-step.ts';
import type { ItemListing } from './item-listing.ts';
import type { ListedColumn, ListedSet } from './listed.ts';
import { type PieceFormula, pieceFormulas } from './piece-formulas.ts';

/** Where the values of a column come from. */
export interface ColumnSource {
  column: ListedColumn;
  formula: Checked;
  item: PlannedItem;
  band: PlannedBand;
  /** Of a group: read when the group begins, and the same for all of its rows. 0-based, outermost first; null for a row’s own. */
  group: number | null;
}

/** An item that shows groups of rows, as a set of them. */
export interface ItemSource {
  set: ListedSet;
  listing: ItemListing;
  item: PlannedItem;
  band: PlannedBand;
}

/** What walks a set: its drawer, and what is inside its rows. */
export interface SetSource {
  set: ListedSet;
  drawer: PlannedDrawer;
  columns: ColumnSource[];
  inner: SetSource[];
  nested: { item: PlannedItem; band: PlannedBand; report: ReportSource }[];
  /** The groups that items of its bands show: those of the header and footer stand beside the set, the others inside its rows. */
  items: Record<'header' | 'detail' | 'detailFooter' | 'footer', ItemSource[]>;
}

/** What walks the rows of a report: its outermost drawers, and the groups that items before and after them show. */
export interface ReportSource {
  header: ItemSource[];
  roots: SetSource[];
  footer: ItemSource[];
}

const setsOf = (items: readonly ItemSource[]): ListedSet[] => items.map(({ set }) => set);

/** The set of a drawer with those beside it, in the order in which they are told. */
const withBeside = ({ items, set }: SetSource): ListedSet[] => [...setsOf(items.header), set, ...setsOf(items.footer)];

/** The outermost sets of a report, in the order in which they are told. */
export const outermostSets = ({ header, roots, footer }: ReportSource): ListedSet[] => [
  ...setsOf(header),
  ...roots.flatMap(withBeside),
  ...setsOf(footer),
];

/** Letters, digits and `_` of words, as programs take for a name; `otherwise` when nothing is left. */
const nameOf = (words: string, otherwise: string): string => {
  if (/^[A-Za-z_][A-Za-z0-9_]*$/.test(words)) return words;
  const plain = words
    .normalize('NFD')
    .replace(/\p{M}/gu, '')
    .replace(/[^A-Za-z0-9]+/g, '_')
    .replace(/^_+|_+$/g, '')
    .toLowerCase()
    .slice(0, 60);
  return plain === '' ? otherwise : /^[0-9]/.test(plain) ? `_${plain}` : plain;
};

const unique = (name: string, taken: Set<string>): string => {
  let free = name;
  for (let n = 2; taken.has(free); n++) free = `${name}_${n}`;
  taken.add(free);
  return free;
};

/** The words over each column of a column set, by set and column. */
const captionsOf = (report: Report): Map<string, string> => {
  const found = new Map<string, string>();
  for (const { band } of allBands(report))
    for (const item of band.items) {
      if (item.kind !== 'text' || !item.column) continue;
      const words = item.content.map((piece) =>
        typeof piece === 'string' ? piece : 'text' in piece ? piece.text : '',
      );
      const key = columnKey(item);
      const caption = words.join('').replace(/\s+/g, ' ').trim();
      if (key !== null && caption !== '' && !found.has(key)) found.set(key, caption);
    }
  return found;
};

const columnKey = ({ column }: Item): string | null => (column ? `${column.set}\0${column.name}` : null);

const typeOf = (formula: Checked): ListedColumn['type'] => {
  const { type } = formula;
  return type === 'any' || type === 'list' || type === 'picture' ? 'text' : type;
};

/** From top to bottom, then from left to right. */
const inOrder = (items: readonly PlannedItem[]): PlannedItem[] =>
  [...items].sort((a, b) => Math.round(a.item.y) - Math.round(b.item.y) || a.item.x - b.item.x);

class Lister {
  private readonly captions: Map<string, string>;

  constructor(private readonly plan: ReportPlan) {
    this.captions = captionsOf(plan.report);
  }

  report(taken = new Set<string>()): ReportSource {
    const { bands, roots } = this.plan;
    return {
      header: this.items(bands.header, taken),
      roots: this.sets(roots, taken),
      footer: this.items(bands.footer, taken),
    };
  }

  private sets(drawers: readonly PlannedDrawer[], taken: Set<string>): SetSource[] {
    return drawers.map((drawer) => this.set(drawer, taken));
  }

  /** The groups that items of a band show. */
  private items(band: PlannedBand | undefined, taken: Set<string>): ItemSource[] {
    return inOrder(band?.items ?? []).flatMap((item) => {
      const listing = itemListing(item);
      if (!band || !listing) return [];
      const names = new Set<string>();
      const labels = new Set<string>();
      const columns = listing.columns.map(({ name: words, caption, formula, format, type }): ListedColumn => {
        const name = unique(nameOf(words, 'value'), names);
        const known = caption ?? this.fieldOf(formula)?.label ?? words;
        // Two groups of one field, as years and their months.
        const label = labels.has(known) ? `${known} (${name})` : known;
        labels.add(label);
        return { name, label, type: type ?? typeOf(formula), format };
      });
      const { id } = item.item;
      const label = listing.title || columns.map((column) => column.label).join(', ');
      const set = { name: unique(nameOf(listing.title.toLowerCase() || id, 'rows'), taken), label, columns, inner: [] };
      return [{ set, listing, item, band }];
    });
  }

  private set(drawer: PlannedDrawer, taken: Set<string>): SetSource {
    const { level, bands, groups, drawers } = drawer;
    const names = new Set<string>();
    const columns: ColumnSource[] = [];
    const nested: SetSource['nested'] = [];
    const inside = new Set<string>();
    // Totals of a group say nothing of one of its rows, and those below a row are not known before what is inside it.
    for (const [g, { header }] of groups.entries()) if (header) this.columns(header, g, columns, names, false);
    if (bands.detail) this.columns(bands.detail, null, columns, names, true);
    if (bands.detailFooter) this.columns(bands.detailFooter, null, columns, names, false);
    const detail = this.items(bands.detail, inside);
    const inner = this.sets(drawers, inside);
    for (const band of [bands.detail, bands.detailFooter])
      for (const item of band?.items ?? []) {
        if (!band || !item.nested) continue;
        nested.push({ item, band, report: new Lister(item.nested.plan).report(inside) });
      }
    const detailFooter = this.items(bands.detailFooter, inside);
    const header = this.items(bands.header, taken);
    const { name } = drawer.drawer;
    return {
      set: {
        name: unique(nameOf(name, 'rows'), taken),
        label: level.entity.plural,
        columns: columns.map(({ column }) => column),
        inner: [
          ...setsOf(detail),
          ...inner.flatMap(withBeside),
          ...nested.flatMap(({ report }) => outermostSets(report)),
          ...setsOf(detailFooter),
        ],
      },
      drawer,
      columns,
      inner,
      nested,
      items: { header, detail, detailFooter, footer: this.items(bands.footer, taken) },
    };
  }

  /** Adds a column for each formula that a band shows and that says something of its row by itself. */
  private columns(
    band: PlannedBand,
    group: number | null,
    into: ColumnSource[],
    names: Set<string>,
    withTotals: boolean,
  ): void {
    const says = (formula: Checked): boolean =>
      pageDependence(formula) === 'none' && (withTotals || ![...nodes(formula)].some(({ kind }) => kind === 'total'));
    for (const item of inOrder(band.items)) {
      const pieces = pieceFormulas(item).filter(({ formula }) => says(formula));
      for (const { formula, format, source, before } of pieces) {
        if (formula.type === 'picture') continue;
        // What a band says twice is one column.
        const key = formulaKey(formula);
        if (into.some((one) => formulaKey(one.formula) === key)) continue;
        const isOnly = pieces.length === 1;
        const label = this.labelOf(item, { formula, source, before }, isOnly);
        const name = unique(nameOf(this.nameFor(item, formula, label, isOnly), 'value'), names);
        into.push({
          column: { name, label, type: typeOf(formula), format },
          formula,
          item,
          band,
          group,
        });
      }
    }
  }

  /** The only field that a formula is made of; null where there are several, or totals. */
  private fieldOf(formula: Checked): { path: string[]; label: string } | null {
    const all = [...nodes(formula)];
    const fields = all.filter((node) => node.kind === 'field');
    const [first] = fields;
    const isOnly = fields.every((one) => one.level === first!.level && one.column === first!.column);
    return first && isOnly && all.every(({ kind }) => kind !== 'total') ? this.field(first) : null;
  }

  private field(formula: Extract<Checked, { kind: 'field' }>): { path: string[]; label: string } | null {
    const column = this.plan.levels[formula.level]?.columns[formula.column - 1];
    return column?.kind === 'field' ? { path: column.path.map(stepName), label: column.field.label } : null;
  }

  /** The caption above it, its field’s label, the words before it, or the formula as it is written. */
  private labelOf(
    { item }: PlannedItem,
    { formula, source, before }: Pick<PieceFormula, 'formula' | 'source' | 'before'>,
    isOnly: boolean,
  ): string {
    const key = columnKey(item);
    const caption = isOnly && key !== null ? this.captions.get(key) : undefined;
    const words = (/[\p{L}\p{N}][^·|,;:–—]*[:\s]*$/u.exec(before)?.[0] ?? '').replace(/[:\s]+$/, '');
    return caption ?? this.fieldOf(formula)?.label ?? (words || source.trim().slice(0, 100));
  }

  private nameFor({ item }: PlannedItem, formula: Checked, label: string, isOnly: boolean): string {
    if (isOnly && item.column) return item.column.name;
    return this.fieldOf(formula)?.path.join('_') ?? label;
  }
}

/** What a report gives as rows. */
export const listingOf = (plan: ReportPlan): ReportSource => new Lister(plan).report();
