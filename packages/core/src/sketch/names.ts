import { tokenize } from '../formula/tokens.ts';

/** A name in a formula, with the relations before it, and where it stands (0-based, end exclusive). */
export interface NameAt {
  path: string;
  from: number;
  to: number;
}

/** The names that a formula reads, as `nights` and `hut.region.name`; not those of functions. */
export function* namesIn(source: string): Iterable<NameAt> {
  const tokens = tokenize(source);
  for (let i = 0; i < tokens.length; i++) {
    const first = tokens[i]!;
    if (first.kind !== 'name' || tokens[i + 1]?.kind === 'open') continue;
    const parts = [first.text];
    let last = first;
    while (tokens[i + 1]?.kind === 'dot' && tokens[i + 2]?.kind === 'name') {
      last = tokens[i + 2]!;
      parts.push(last.text);
      i += 2;
    }
    yield { path: parts.join('.'), from: first.from, to: last.to };
  }
}

/** A formula with other words in the place of its names; those for which `replace` gives null stay. */
export const renamed = (source: string, replace: (path: string) => string | null): string => {
  let made = '';
  let at = 0;
  for (const { path, from, to } of namesIn(source)) {
    const other = replace(path);
    if (other === null) continue;
    made += source.slice(at, from) + other;
    at = to;
  }
  return made + source.slice(at);
};
