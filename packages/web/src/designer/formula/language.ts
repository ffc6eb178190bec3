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
    // Inside quotes nothing is completed.
    const before = context.state.sliceDoc(0, context.pos);
    if ((before.match(/"/g)?.length ?? 0) % 2 === 1) return null;
    return {
      from: word ? word.from : context.pos,
      validFor: /^[\p{L}\p{N}_.']*$/u,
      options: find().map((c, i) => {
        const isCall = c.kind === 'function' || c.kind === 'total';
        return {
          label: c.insert,
          displayLabel: c.insert,
          detail: c.kind === 'field' || c.kind === 'group' ? c.label : t(`formula.kind_${c.kind}`),
          ...(isCall ? { info: functionWords(c) } : {}),
          // In the order given, but what begins as typed comes first anyway.
          boost: Math.max(-90, 50 - i / 4),
          apply: isCall
            ? (view: EditorView, _: unknown, from: number, to: number) =>
                view.dispatch({
                  changes: { from, to, insert: `${c.insert}()` },
                  selection: { anchor: from + c.insert.length + 1 },
                })
            : c.insert,
        };
      }),
    };
  };
