import { DEFAULT_LOOK, type FontBook, type Look, type RunLook } from '@gaveta/core/internal';
import { baseOf } from '../document/looks.ts';
import { HEAD } from '../office/relations.ts';
import { escapeAttribute } from '../xml/escape.ts';
import { halves, hex, runProperties } from './looks.ts';

export const WORD = 'http://schemas.openxmlformats.org/wordprocessingml/2006/main';

const LEVELS = [1, 2, 3, 4, 5, 6] as const;

/** The styles of a document: headings, and those of the report by their names. */
export class Styles {
  readonly normal: RunLook;
  private readonly ids = new Map<string, { id: string; look: RunLook }>();
  /** The first heading of each level tells how the style of its level looks. */
  private readonly headings = new Map<number, RunLook>();

  constructor(
    book: FontBook,
    styles: Readonly<Record<string, Look>>,
    private readonly language: string,
  ) {
    this.normal = {
      family: book.families[0]!,
      size: DEFAULT_LOOK.size,
      bold: false,
      italic: false,
      underline: false,
      strike: false,
      color: DEFAULT_LOOK.color,
    };
    for (const [name, look] of Object.entries(styles))
      this.ids.set(name, { id: `Report${this.ids.size + 1}`, look: baseOf(look, this.normal) });
  }

  /** The style of a paragraph, and what it says of text. */
  of(style: string | undefined): { id: string | null; look: RunLook } {
    const found = style === undefined ? undefined : this.ids.get(style);
    return found ?? { id: null, look: this.normal };
  }

  heading(level: number, look: RunLook): { id: string; look: RunLook } {
    const known = this.headings.get(level);
    if (!known) this.headings.set(level, look);
    return { id: `Heading${level}`, look: known ?? look };
  }

  xml(): string {
    const { normal } = this;
    const own = (look: RunLook): string => runProperties(look, normal, false);
    const headings = LEVELS.map((level) => {
      const look = this.headings.get(level) ?? { ...normal, bold: true, size: 16 - level };
      return `<w:style w:type="paragraph" w:styleId="Heading${level}"><w:name w:val="heading ${level}"/><w:basedOn w:val="Normal"/><w:next w:val="Normal"/><w:qFormat/><w:pPr><w:keepNext/><w:outlineLvl w:val="${level - 1}"/></w:pPr>${own(look)}</w:style>`;
    });
    const contents = LEVELS.map(
      (level) =>
        `<w:style w:type="paragraph" w:styleId="TOC${level}"><w:name w:val="toc ${level}"/><w:basedOn w:val="Normal"/><w:next w:val="Normal"/><w:pPr><w:tabs><w:tab w:val="right" w:leader="dot" w:pos="9000"/></w:tabs><w:spacing w:before="40" w:after="40"/><w:ind w:left="${(level - 1) * 240}"/></w:pPr></w:style>`,
    );
    const named = [...this.ids].map(
      ([name, { id, look }]) =>
        `<w:style w:type="paragraph" w:customStyle="1" w:styleId="${id}"><w:name w:val="${escapeAttribute(name)}"/><w:basedOn w:val="Normal"/><w:qFormat/>${own(look)}</w:style>`,
    );
    const family = escapeAttribute(normal.family);
    const size = halves(normal.size);
    return `${HEAD}<w:styles xmlns:w="${WORD}"><w:docDefaults><w:rPrDefault><w:rPr><w:rFonts w:ascii="${family}" w:hAnsi="${family}" w:eastAsia="${family}" w:cs="${family}"/><w:color w:val="${hex(normal.color)}"/><w:sz w:val="${size}"/><w:szCs w:val="${size}"/><w:lang w:val="${escapeAttribute(this.language)}"/></w:rPr></w:rPrDefault><w:pPrDefault><w:pPr><w:spacing w:before="0" w:after="0"/></w:pPr></w:pPrDefault></w:docDefaults><w:style w:type="paragraph" w:default="1" w:styleId="Normal"><w:name w:val="Normal"/><w:qFormat/></w:style><w:style w:type="character" w:default="1" w:styleId="DefaultParagraphFont"><w:name w:val="Default Paragraph Font"/></w:style><w:style w:type="table" w:default="1" w:styleId="TableNormal"><w:name w:val="Normal Table"/><w:tblPr><w:tblCellMar><w:top w:w="0" w:type="dxa"/><w:left w:w="0" w:type="dxa"/><w:bottom w:w="0" w:type="dxa"/><w:right w:w="0" w:type="dxa"/></w:tblCellMar></w:tblPr></w:style><w:style w:type="character" w:styleId="Hyperlink"><w:name w:val="Hyperlink"/></w:style>${headings.join('')}${contents.join('')}${named.join('')}</w:styles>`;
  }
}
