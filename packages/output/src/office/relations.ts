import { escapeAttribute } from '../xml/escape.ts';

export const HEAD = '<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n';
const PACKAGE = 'http://schemas.openxmlformats.org/package/2006/relationships';
const OFFICE = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';

/** What a part of a package refers to (ECMA-376 part 2). */
export class Relations {
  private readonly known = new Map<string, string>();
  private readonly entries: string[] = [];

  /** The id by which the part names it; `isOutside`: an address. */
  id(kind: string, target: string, isOutside = false): string {
    const key = `${kind} ${target}`;
    let id = this.known.get(key);
    if (id === undefined) {
      id = `rId${this.known.size + 1}`;
      this.known.set(key, id);
      this.entries.push(
        `<Relationship Id="${id}" Type="${OFFICE}/${kind}" Target="${escapeAttribute(target)}"${isOutside ? ' TargetMode="External"' : ''}/>`,
      );
    }
    return id;
  }

  /** What it names of a kind. */
  targets(kind: string): string[] {
    return [...this.known.keys()].filter((key) => key.startsWith(`${kind} `)).map((key) => key.slice(kind.length + 1));
  }

  get isEmpty(): boolean {
    return this.entries.length === 0;
  }

  xml(): string {
    return `${HEAD}<Relationships xmlns="${PACKAGE}">${this.entries.join('')}</Relationships>`;
  }
}
