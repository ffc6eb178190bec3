import type { FontBook, Page } from '@gaveta/core/internal';
import subset from 'subset-font';

/** The characters that are written in each font. */
export class UsedFonts {
  private readonly used = new Map<string, Set<string>>();

  add({ marks }: Page): void {
    for (const mark of marks) if (mark.kind === 'text') this.addText(mark.font, mark.text);
  }

  /** `font`: its key. */
  addText(font: string, text: string): void {
    let signs = this.used.get(font);
    if (!signs) {
      signs = new Set();
      this.used.set(font, signs);
    }
    for (const sign of text) signs.add(sign);
  }

  /** Rules for a style sheet that hold the fonts, with the characters that are used and no others. */
  async *rules(book: FontBook): AsyncGenerator<string> {
    for (const [key, signs] of this.used) {
      const { file } = book.byKey(key);
      const data = await subset(Buffer.from(file.data), [...signs].join(''), { targetFormat: 'woff2' });
      const slant = file.italic ? 'italic' : 'normal';
      yield `@font-face{font-family:${JSON.stringify(file.family)};font-weight:${file.weight};font-style:${slant};src:url(data:font/woff2;base64,${Buffer.from(data).toString('base64')})format("woff2")}\n`;
    }
  }
}
