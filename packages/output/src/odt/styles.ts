import type { PieceEdge, RunLook } from '@gaveta/core/internal';
import { Interned } from '../sheet/cell-look.ts';
import { escapeAttribute } from '../xml/escape.ts';

export const pt = (points: number): string => `${Math.round(points * 100) / 100}pt`;

export const attributes = (list: Readonly<Record<string, string | undefined>>): string =>
  Object.entries(list)
    .flatMap(([name, value]) => (value === undefined ? [] : [` ${name}="${escapeAttribute(value)}"`]))
    .join('');

const written = new WeakMap<RunLook, string>();

/** What a stretch of text looks like, as the attributes of its properties. Looks come again as they are. */
export const textProperties = (look: RunLook): string => {
  let text = written.get(look);
  if (text === undefined) {
    text = propertiesOf(look);
    written.set(look, text);
  }
  return text;
};

const propertiesOf = (look: RunLook): string =>
  `<style:text-properties${attributes({
    'style:font-name': look.family,
    'style:font-name-asian': look.family,
    'style:font-name-complex': look.family,
    'fo:font-size': pt(look.size),
    'style:font-size-asian': pt(look.size),
    'style:font-size-complex': pt(look.size),
    'fo:font-weight': look.bold ? 'bold' : 'normal',
    'style:font-weight-complex': look.bold ? 'bold' : 'normal',
    'fo:font-style': look.italic ? 'italic' : 'normal',
    'style:font-style-complex': look.italic ? 'italic' : 'normal',
    'fo:color': look.color,
    'style:text-underline-style': look.underline ? 'solid' : 'none',
    'style:text-line-through-style': look.strike ? 'solid' : 'none',
  })}/>`;

export const edgeText = (edge: PieceEdge | undefined): string | undefined =>
  edge && `${pt(Math.max(0.5, edge.width))} ${edge.isDashed ? 'dashed' : 'solid'} ${edge.color}`;

type Family = 'paragraph' | 'text' | 'table' | 'table-column' | 'table-row' | 'table-cell' | 'graphic';

const PREFIXES: Readonly<Record<Family, string>> = {
  paragraph: 'P',
  text: 'T',
  table: 'Tab',
  'table-column': 'Col',
  'table-row': 'Row',
  'table-cell': 'Cell',
  graphic: 'Fr',
};

/** The styles that a part of a document gives itself, each once. */
export class OwnStyles {
  private readonly families = new Map<Family, Interned<string>>();

  /** `prefix`: tells the names of this part from those of others. */
  constructor(private readonly prefix = '') {}

  /** The name of a style with these properties; `more`: attributes of the style itself. */
  name(family: Family, properties: string, more = ''): string {
    let own = this.families.get(family);
    if (!own) {
      own = new Interned();
      this.families.set(family, own);
    }
    return `${this.prefix}${PREFIXES[family]}${own.of(`${more}\0${properties}`) + 1}`;
  }

  xml(): string {
    return [...this.families]
      .flatMap(([family, own]) =>
        own.all.map((written, i) => {
          const [more, properties] = written.split('\0') as [string, string];
          const name = `${this.prefix}${PREFIXES[family]}${i + 1}`;
          return `<style:style style:name="${name}" style:family="${family}"${more}>${properties}</style:style>`;
        }),
      )
      .join('');
  }
}

/** A name as the files of OpenDocument have it: what is no letter or digit is written by its number. */
export const styleName = (words: string): string =>
  words.replace(/[^A-Za-z0-9]/gu, (sign) => `_${sign.codePointAt(0)!.toString(16)}_`);
