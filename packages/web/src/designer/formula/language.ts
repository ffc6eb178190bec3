import type { CompletionContext, CompletionResult } from '@codemirror/autocomplete';
import { HighlightStyle, StreamLanguage, syntaxHighlighting } from '@codemirror/language';
import { EditorView } from '@codemirror/view';
import type { Completion } from '@gaveta/core/internal';
import { tags } from '@lezer/highlight';
import type { TFunction } from 'i18next';
import { functionWords } from '../../i18n/words.ts';
import { editorLook } from '../../ui/editor-look.ts';

/** Colours a formula's parts by their kind; what is wrong in it is found by the check, not here. */
const language = StreamLanguage.define<null>({
  token: (stream) => {
    if (stream.match(/^"(?:[^"]|"")*"?/)) return 'string';
    if (stream.match(/^\d+(?:[.]\d+)?(?:[eE][+-]?\d+)?%?/)) return 'number';
    if (stream.match(/^[\p{L}_][\p{L}\p{N}_]*(?=\s*\()/u)) return 'keyword';
    if (stream.match(/^(?:[\p{L}_][\p{L}\p{N}_]*|'(?:[^']|'')*'?)(?:\.(?:[\p{L}_][\p{L}\p{N}_]*|'(?:[^']|'')*'?))*/u))
      return 'variableName';
    if (stream.match(/^(?:<>|<=|>=|[-+*/^&=<>])/)) return 'operator';
    stream.next();
    return null;
  },
});

const colours = syntaxHighlighting(
  HighlightStyle.define([
    { tag: tags.keyword, color: 'var(--color-pine)', fontWeight: '600' },
    { tag: tags.string, color: 'var(--color-literal)' },
    { tag: tags.number, color: 'var(--color-literal)' },
    { tag: tags.variableName, color: 'var(--color-ink)' },
    { tag: tags.operator, color: 'var(--color-ink-3)' },
  ]),
);

export const formulaLanguage = [language, colours, editorLook, EditorView.lineWrapping];

/** Completions as the editor's own list shows them. */
export const completionSource =
  (t: TFunction, find: () => readonly Completion[]) =>
  (context: CompletionContext): CompletionResult | null => {
    const word = context.matchBefore(/[\p{L}_'][\p{L}\p{N}_.']*/u);
    if (!word && !context.explicit) return null;
    const typed = word?.text ?? '';
    // Inside quotes nothing is completed.
    const before = context.state.sliceDoc(0, context.pos);
    if ((before.match(/"/g)?.length ?? 0) % 2 === 1) return null;
    return {
      from: word ? word.from : context.pos,
      filter: false,
      options: matching(find(), typed, before).map(({ completion: c, length }) => {
        const isCall = c.kind === 'function' || c.kind === 'total';
        return {
          label: c.insert,
          displayLabel: c.insert,
          detail: c.kind === 'field' || c.kind === 'group' ? c.label : t(`formula.kind_${c.kind}`),
          ...(isCall ? { info: functionWords(c) } : {}),
          apply: (view: EditorView, _: unknown, _from: number, to: number) =>
            view.dispatch({
              changes: { from: to - length, to, insert: isCall ? `${c.insert}()` : c.insert },
              selection: { anchor: to - length + c.insert.length + (isCall ? 1 : 0) },
              userEvent: 'input.complete',
            }),
        };
      }),
    };
  };

/** Most that is offered at once. */
const MOST = 100;

interface Match {
  completion: Completion;
  /** How many of the characters before the cursor it stands for. */
  length: number;
  /** The less, the better. */
  rank: number;
}

/**
 * What may be meant by what was typed: names that begin with it come first, then labels as people see them, of which words before the
 * cursor may be the beginning, then names that contain it.
 */
export const matching = (offered: readonly Completion[], typed: string, before: string): Match[] => {
  const wanted = typed.toLowerCase();
  const matchOf = (completion: Completion): Match | null => {
    const name = completion.insert.toLowerCase();
    const own = { completion, length: typed.length };
    if (name.startsWith(wanted)) return { ...own, rank: 0 };
    const written = isNamed(completion) ? begunLabel(completion.label, before) : 0;
    if (written > 0) return { completion, length: written, rank: 1 };
    if (name.split(/[._]/).some((part) => part.startsWith(wanted))) return { ...own, rank: 2 };
    return wanted.length > 1 && name.includes(wanted) ? { ...own, rank: 3 } : null;
  };
  return offered
    .flatMap((completion) => matchOf(completion) ?? [])
    .sort((a, b) => a.rank - b.rank)
    .slice(0, MOST);
};

const isNamed = ({ kind }: Completion): boolean => kind === 'field' || kind === 'group' || kind === 'parameter';

/** How many characters before the cursor are the beginning of a label, from the start of a word on; 0 for none. */
const begunLabel = (label: string, before: string): number => {
  const lower = label.toLowerCase();
  const end = before.toLowerCase();
  for (let length = Math.min(lower.length, end.length); length > 0; length--) {
    const isStart = !/[\p{L}\p{N}_.']/u.test(end[end.length - length - 1] ?? ' ');
    if (isStart && lower.startsWith(end.slice(-length)) && end.at(-length)!.trim() !== '') return length;
  }
  return 0;
};
