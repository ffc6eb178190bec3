import type { PieceEdge, RunLook } from '@gaveta/core/internal';
import { type CellLook, Interned } from '../sheet/cell-look.ts';
import type { SheetCell } from '../sheet/rows.ts';
import { attributeText } from './text.ts';

/** Number of the first format that a workbook gives itself. */
const FIRST = 164;
/** Number formats of dates and times that say nothing of it. */
const OWN: Partial<Record<CellLook['type'], string>> = { date: 'yyyy-mm-dd', datetime: 'yyyy-mm-dd hh:mm' };
/** Points that one step of an indent takes, about. */
const STEP = 7;

const argb = (color: string): string => {
  const digits = color.replace('#', '');
  const six = digits.length === 3 ? [...digits].map((digit) => digit + digit).join('') : digits.slice(0, 6);
  return `FF${six.toUpperCase()}`;
};

export const fontXml = (look: RunLook, name: 'name' | 'rFont'): string =>
  [
    look.bold ? '<b/>' : '',
    look.italic ? '<i/>' : '',
    look.strike ? '<strike/>' : '',
    look.underline ? '<u/>' : '',
    `<sz val="${look.size}"/><color rgb="${argb(look.color)}"/>`,
    `<${name} val="${attributeText(look.family)}"/>`,
  ].join('');

const side = (name: string, edge: PieceEdge | undefined): string => {
  if (!edge) return `<${name}/>`;
  const style = edge.isDashed
    ? 'dashed'
    : edge.width < 0.45
      ? 'hair'
      : edge.width < 1.1
        ? 'thin'
        : edge.width < 2
          ? 'medium'
          : 'thick';
  return `<${name} style="${style}"><color rgb="${argb(edge.color)}"/></${name}>`;
};

/** Decimals of a number format that are shown only where there are any. */
const OPTIONAL_DECIMALS = /\.#+(?![#0.])/;

const isWholeNumber = (value: unknown): boolean => value != null && /^-?\d+(\.0+)?$/.test(String(value));

/** The formats of cells that look like those of a page. */
export class LookFormats {
  private readonly fonts = new Interned<string>();
  private readonly fills = new Interned<string>();
  private readonly borders = new Interned<string>();
  private readonly codes = new Interned<string>();
  private readonly cells = new Interned<string>();
  private readonly known = new Map<string, number>();

  constructor(normal: RunLook) {
    this.fonts.of(fontXml(normal, 'name'));
    this.fills.of('<patternFill patternType="none"/>');
    this.fills.of('<patternFill patternType="gray125"/>');
    this.borders.of('<left/><right/><top/><bottom/><diagonal/>');
    this.cells.of('<xf numFmtId="0" fontId="0" fillId="0" borderId="0" xfId="0"/>');
  }

  private fill(color: string | undefined): number {
    return color
      ? this.fills.of(
          `<patternFill patternType="solid"><fgColor rgb="${argb(color)}"/><bgColor indexed="64"/></patternFill>`,
        )
      : 0;
  }

  private border(edges: CellLook['edges']): number {
    return this.borders.of(
      `${side('left', edges.left)}${side('right', edges.right)}${side('top', edges.top)}${side('bottom', edges.bottom)}<diagonal/>`,
    );
  }

  /** The place of a cell’s format. */
  of({ look, lookKey, value }: Pick<SheetCell, 'look' | 'lookKey' | 'value'>): number {
    const isWhole = look.type === 'number' && OPTIONAL_DECIMALS.test(look.format) && isWholeNumber(value);
    const key = isWhole ? `${lookKey} whole` : lookKey;
    let place = this.known.get(key);
    if (place === undefined) {
      // Spreadsheet programs leave the point where decimals that need not be shown are none.
      place = this.make(isWhole ? { ...look, format: look.format.replace(OPTIONAL_DECIMALS, '') } : look);
      this.known.set(key, place);
    }
    return place;
  }

  private make({ font, align, stands, wraps, turn, indent, format, type, fill, edges }: CellLook): number {
    const code = type === 'text' || type === 'boolean' ? '' : format.trim() || OWN[type] || '';
    const number = code === '' ? 0 : FIRST + this.codes.of(code);
    const angle = ((Math.round(turn) % 360) + 360) % 360;
    // Clockwise is counted from 91 on.
    const rotation = angle === 0 ? 0 : angle <= 90 ? 90 + angle : angle >= 270 ? 360 - angle : 0;
    const steps = align === 'left' || align === 'right' ? Math.min(15, Math.round(indent / STEP)) : 0;
    // A number that does not fit would be shown as signs that say so.
    const shrinks = !wraps && code !== '' && steps === 0;
    const alignment = [
      ` horizontal="${align}"`,
      stands === 'middle' ? ' vertical="center"' : stands === 'top' ? ' vertical="top"' : '',
      rotation ? ` textRotation="${rotation}"` : '',
      wraps ? ' wrapText="1"' : shrinks ? ' shrinkToFit="1"' : '',
      steps ? ` indent="${steps}"` : '',
    ].join('');
    return this.cells.of(
      `<xf numFmtId="${number}" fontId="${this.fonts.of(fontXml(font, 'name'))}" fillId="${this.fill(fill)}" borderId="${this.border(edges)}" xfId="0" applyNumberFormat="1" applyFont="1" applyFill="1" applyBorder="1" applyAlignment="1"><alignment${alignment}/></xf>`,
    );
  }

  /** The format of a cell that holds nothing. */
  bare({ fill, edges }: Pick<CellLook, 'fill' | 'edges'>): number {
    const key = `bare ${fill} ${JSON.stringify(edges)}`;
    let place = this.known.get(key);
    if (place === undefined) {
      place = this.cells.of(
        `<xf numFmtId="0" fontId="0" fillId="${this.fill(fill)}" borderId="${this.border(edges)}" xfId="0" applyFill="1" applyBorder="1"/>`,
      );
      this.known.set(key, place);
    }
    return place;
  }

  xml(): string {
    const list = (tag: string, items: readonly string[], inner?: string): string =>
      `<${tag} count="${items.length}">${items.map((item) => (inner ? `<${inner}>${item}</${inner}>` : item)).join('')}</${tag}>`;
    const codes = this.codes.all.map(
      (code, i) => `<numFmt numFmtId="${FIRST + i}" formatCode="${attributeText(code)}"/>`,
    );
    return `<?xml version="1.0" encoding="UTF-8" standalone="yes"?>
<styleSheet xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main">${codes.length > 0 ? list('numFmts', codes) : ''}${list('fonts', this.fonts.all, 'font')}${list('fills', this.fills.all, 'fill')}${list('borders', this.borders.all, 'border')}<cellStyleXfs count="1"><xf numFmtId="0" fontId="0" fillId="0" borderId="0"/></cellStyleXfs>${list('cellXfs', this.cells.all)}<cellStyles count="1"><cellStyle name="Normal" xfId="0" builtinId="0"/></cellStyles></styleSheet>`;
  }
}
