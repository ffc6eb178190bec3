export const escapeText = (text: string): string =>
  text
    .replace(/[&<>"]/g, (c) => (c === '&' ? '&amp;' : c === '<' ? '&lt;' : c === '>' ? '&gt;' : '&quot;'))
    // Characters that XML cannot hold.
    // biome-ignore lint/suspicious/noControlCharactersInRegex: these are the ones to take out
    .replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]/g, '\ufffd');

/** A number as SVG has it, to a thousandth. */
export const n = (value: number): string => String(Math.round(value * 1000) / 1000);

export const dashes = (dash: number[] | undefined): string =>
  dash ? ` stroke-dasharray="${dash.map(n).join(' ')}"` : '';

export const rectangle = ({ x, y, width, height }: { x: number; y: number; width: number; height: number }): string =>
  `x="${n(x)}" y="${n(y)}" width="${n(width)}" height="${n(height)}"`;
