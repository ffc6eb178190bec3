import type { ListedColumn } from '@gaveta/core/internal';
import { attributeText } from './text.ts';

/** Number formats of dates and times that say nothing of it. */
const OWN: Partial<Record<ListedColumn['type'], string>> = { date: 'yyyy-mm-dd', datetime: 'yyyy-mm-dd hh:mm' };

/** Number of the first format that a workbook gives itself. */
const FIRST = 164;

/** The formats of the cells of a workbook: plain ones, bold ones for captions, and one for each number format. */
export class CellFormats {
  static readonly PLAIN = 0;
  static readonly CAPTION = 1;
  private readonly codes: string[] = [];
  private readonly bold = new Map<number, number>();
  /** Each as the number of its number format, and whether it is bold. */
  private readonly all: { code: number; isBold: boolean }[] = [
    { code: 0, isBold: false },
    { code: 0, isBold: true },
  ];

  /** The format of a column’s values. */
  of({ type, format }: Pick<ListedColumn, 'type' | 'format'>): number {
    const code = format.trim() || OWN[type] || '';
    if (code === '' || type === 'text' || type === 'boolean') return CellFormats.PLAIN;
    let at = this.codes.indexOf(code);
    if (at < 0) {
      at = this.codes.push(code) - 1;
      this.all.push({ code: FIRST + at, isBold: false });
    }
    return this.all.findIndex((one) => one.code === FIRST + at && !one.isBold);
  }

  /** The same format in bold. */
  bolder(format: number): number {
    let found = this.bold.get(format);
    if (found === undefined) {
      found = this.all.push({ code: this.all[format]!.code, isBold: true }) - 1;
      this.bold.set(format, found);
    }
    return found;
  }

  xml(): string {
    const formats = this.codes.map(
      (code, i) => `<numFmt numFmtId="${FIRST + i}" formatCode="${attributeText(code)}"/>`,
    );
    const cells = this.all.map(
      ({ code, isBold }) =>
        `<xf numFmtId="${code}" fontId="${isBold ? 1 : 0}" fillId="0" borderId="0" xfId="0"${code ? ' applyNumberFormat="1"' : ''}${isBold ? ' applyFont="1"' : ''}/>`,
    );
    const font = '<sz val="11"/><name val="Calibri"/><family val="2"/>';
    return `<?xml version="1.0" encoding="UTF-8" standalone="yes"?>
<styleSheet xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main">${formats.length > 0 ? `<numFmts count="${formats.length}">${formats.join('')}</numFmts>` : ''}<fonts count="2"><font>${font}</font><font><b/>${font}</font></fonts><fills count="2"><fill><patternFill patternType="none"/></fill><fill><patternFill patternType="gray125"/></fill></fills><borders count="1"><border><left/><right/><top/><bottom/><diagonal/></border></borders><cellStyleXfs count="1"><xf numFmtId="0" fontId="0" fillId="0" borderId="0"/></cellStyleXfs><cellXfs count="${cells.length}">${cells.join('')}</cellXfs><cellStyles count="1"><cellStyle name="Normal" xfId="0" builtinId="0"/></cellStyles></styleSheet>`;
  }
}
