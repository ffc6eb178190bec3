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
