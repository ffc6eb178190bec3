import type { RunLook } from '@gaveta/core/internal';
import { escapeAttribute } from '../xml/escape.ts';

/** Half points. */
export const halves = (points: number): number => Math.max(2, Math.round(points * 2));
/** Twentieths of a point. */
export const twips = (points: number): number => Math.round(points * 20);
/** Six digits of a colour. */
export const hex = (color: string): string => {
  const digits = color.replace('#', '');
  return (digits.length === 3 ? [...digits].map((digit) => digit + digit).join('') : digits.slice(0, 6)).toUpperCase();
};

/** What a paragraph’s text looks like before anything is said of a stretch of it. */
export interface BaseLook extends Partial<RunLook> {}

const toggle = (name: string, wanted: boolean, base: boolean | undefined): string =>
  wanted === (base ?? false) ? '' : wanted ? `<w:${name}/>` : `<w:${name} w:val="0"/>`;

/** The properties of a stretch of text that its paragraph does not have already, in the order of the schema. */
export const runProperties = (look: RunLook, base: BaseLook, isRightToLeft: boolean, isLink = false): string => {
  const family = escapeAttribute(look.family);
  const parts = [
    isLink ? '<w:rStyle w:val="Hyperlink"/>' : '',
    look.family === base.family
      ? ''
      : `<w:rFonts w:ascii="${family}" w:hAnsi="${family}" w:eastAsia="${family}" w:cs="${family}"/>`,
    toggle('b', look.bold, base.bold),
    toggle('bCs', look.bold, base.bold),
    toggle('i', look.italic, base.italic),
    toggle('iCs', look.italic, base.italic),
    toggle('strike', look.strike, base.strike),
    look.color === base.color ? '' : `<w:color w:val="${hex(look.color)}"/>`,
    look.size === base.size ? '' : `<w:sz w:val="${halves(look.size)}"/><w:szCs w:val="${halves(look.size)}"/>`,
    look.underline === (base.underline ?? false) ? '' : `<w:u w:val="${look.underline ? 'single' : 'none'}"/>`,
    isRightToLeft ? '<w:rtl/>' : '',
  ].join('');
  return parts === '' ? '' : `<w:rPr>${parts}</w:rPr>`;
};
