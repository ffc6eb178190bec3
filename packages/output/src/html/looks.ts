import { escapeAttribute } from '../xml/escape.ts';

/** Gives elements their looks: by classes of a style sheet that comes at the end, or each its own. */
export class Looks {
  private readonly classes = new Map<string, string>();

  constructor(private readonly isInline: boolean) {}

  /** The attribute of an element that looks so; empty for none. */
  of(declarations: readonly (string | false | null | undefined)[]): string {
    const style = declarations.filter(Boolean).join(';');
    if (style === '') return '';
    if (this.isInline) return ` style="${escapeAttribute(style)}"`;
    let name = this.classes.get(style);
    if (name === undefined) {
      name = `g${this.classes.size + 1}`;
      this.classes.set(style, name);
    }
    return ` class="${name}"`;
  }

  *rules(): Iterable<string> {
    for (const [style, name] of this.classes) yield `.${name}{${style}}\n`;
  }
}
