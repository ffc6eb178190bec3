import type { Look } from '../../definition/schema.ts';
import type { AxisLine } from './grid.ts';
import type { PreparedCrosstab } from './prepared.ts';
import type { Dress } from './writer.ts';

/** Looks of the parts where nothing else is said. */
const BASE: Look = { size: 9, padding: { top: 0.7, bottom: 0.7, left: 1.2, right: 1.2 } };
const HEADING: Look = { bold: true };
const TOTAL: Look = { bold: true, background: '#faf5e8' };

/** How the parts of a crosstab look: what the whole has, what a part has by itself, and what each is given. */
export class Dresses {
  readonly heading: Dress;
  readonly headingRight: Dress;
  /** Of a heading over several columns. */
  readonly headingCentre: Dress;
  /** Of what belongs to no group. */
  readonly label: Dress;
  private readonly made = new Map<string, Dress>();

  constructor(private readonly prepared: PreparedCrosstab) {
    const { item } = prepared;
    const whole = { ...BASE, ...item.look };
    const heading: Look = { ...whole, ...HEADING, ...item.headingLook };
    const label: Look = { ...whole, ...item.labelLook };
    this.heading = { key: 'heading', look: heading, wraps: true };
    this.headingRight = { key: 'heading right', look: { align: 'right', ...heading }, wraps: true };
    this.headingCentre = { key: 'heading centre', look: { ...heading, align: 'center' }, wraps: true };
    this.label = { key: 'label', look: label, wraps: true };
  }

  private once(key: string, make: () => Dress): Dress {
    const dress = this.made.get(key) ?? make();
    this.made.set(key, dress);
    return dress;
  }

  /** Of the labels of a line down. */
  labelOf({ kind, group }: Pick<AxisLine, 'kind' | 'group'>): Dress {
    const isTotal = kind !== 'leaf';
    const key = `label ${isTotal} ${group}`;
    const { item } = this.prepared;
    const look = (): Look => ({
      ...this.label.look,
      ...(isTotal ? { ...TOTAL, ...item.totalLook } : {}),
      ...item.down[group]?.look,
    });
    return this.once(key, () => ({ key, look: look(), wraps: true }));
  }

  /** Of the heading of a group across, over one column or several. */
  headingOf(group: number, isOver: 'one' | 'several'): Dress {
    const plain = isOver === 'one' ? this.headingRight : this.headingCentre;
    const own = this.prepared.item.across[group]?.look;
    if (!own) return plain;
    const key = `${plain.key} ${group}`;
    // Headings stand over their columns, whatever their group says of its cells.
    return this.once(key, () => ({ ...plain, key, look: { ...plain.look, ...own, ...alignOf(plain.look) } }));
  }

  /** Of a cell of the value at a place, where two lines meet; `holding`: places of its highlights that hold. */
  cell(
    at: number,
    line: Pick<AxisLine, 'kind' | 'group'>,
    column: Pick<AxisLine, 'group'>,
    isNumber: boolean,
    holding: readonly number[] = [],
  ): Dress {
    const isTotal = line.kind !== 'leaf';
    const key = `cell ${at} ${isTotal} ${line.group} ${column.group} ${isNumber} ${holding.join(',')}`;
    const { item, cells } = this.prepared;
    const { cell, highlights } = cells[at]!;
    const look = (): Look => ({
      align: isNumber ? 'right' : 'left',
      ...BASE,
      ...item.look,
      ...(isTotal ? { ...TOTAL, ...item.totalLook } : {}),
      ...item.down[line.group]?.look,
      ...item.across[column.group]?.look,
      ...cell.look,
      ...Object.assign({}, ...holding.map((i) => highlights[i]!.look)),
    });
    return this.once(key, () => ({ key, look: look(), wraps: false }));
  }
}

const alignOf = ({ align }: Look): Look => (align ? { align } : {});
