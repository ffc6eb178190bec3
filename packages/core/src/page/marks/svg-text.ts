/** What a text of XML cannot hold as it is. */
// biome-ignore lint/suspicious/noControlCharactersInRegex: XML has no place for these
const SPECIAL = /[&<>"\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]/;
const EACH = new RegExp(SPECIAL, 'g');
const NAMED: Readonly<Record<string, string>> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' };

/** A text as XML holds it; characters that it cannot hold become the sign of that. */
export const escapeText = (text: string): string =>
  // Nearly every text is of the first kind, and a page has hundreds.
  SPECIAL.test(text) ? text.replace(EACH, (c) => NAMED[c] ?? '\ufffd') : text;

/** A number as SVG has it, to a thousandth. */
export const n = (value: number): string => String(Math.round(value * 1000) / 1000);

export const dashes = (dash: number[] | undefined): string =>
  dash ? ` stroke-dasharray="${dash.map(n).join(' ')}"` : '';

export const rectangle = ({ x, y, width, height }: { x: number; y: number; width: number; height: number }): string =>
  `x="${n(x)}" y="${n(y)}" width="${n(width)}" height="${n(height)}"`;
