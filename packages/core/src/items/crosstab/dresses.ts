import type { Look } from '../../definition/schema.ts';
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
  readonly label: Dress;
  readonly totalLabel: Dress;
  private readonly cells = new Map<string, Dress>();

  constructor(private readonly prepared: PreparedCrosstab) {
    const { item } = prepared;
    const whole = { ...BASE, ...item.look };
    const heading: Look = { ...whole, ...HEADING, ...item.headingLook };
    const label: Look = { ...whole, ...item.labelLook };
    this.heading = { key: 'heading', look: heading, wraps: true };
    this.headingRight = { key: 'heading right', look: { align: 'right', ...heading }, wraps: true };
    this.headingCentre = { key: 'heading centre', look: { ...heading, align: 'center' }, wraps: true };
    this.label = { key: 'label', look: label, wraps: true };
    this.totalLabel = { key: 'total', look: { ...label, ...TOTAL, ...item.totalLook }, wraps: true };
  }

  /** Of a cell of the value at a place; `holding`: places of its highlights that hold. */
  cell(at: number, isTotal: boolean, isNumber: boolean, holding: readonly number[] = []): Dress {
    const key = `cell ${at} ${isTotal} ${isNumber} ${holding.join(',')}`;
    let dress = this.cells.get(key);
    if (!dress) {
      const { item, cells } = this.prepared;
      const { cell, highlights } = cells[at]!;
      const look: Look = {
        align: isNumber ? 'right' : 'left',
        ...BASE,
        ...item.look,
        ...(isTotal ? { ...TOTAL, ...item.totalLook } : {}),
        ...cell.look,
        ...Object.assign({}, ...holding.map((i) => highlights[i]!.look)),
      };
      dress = { key, look, wraps: false };
      this.cells.set(key, dress);
    }
    return dress;
  }
}
