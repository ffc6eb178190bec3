import { history, redo, undo } from 'prosemirror-history';
import { keymap } from 'prosemirror-keymap';
import { type Command, EditorState, TextSelection, type Transaction } from 'prosemirror-state';
import { EditorView } from 'prosemirror-view';
import 'prosemirror-view/style/prosemirror.css';
import { sliceOfText, withLines } from './pasting.ts';
import { type Content, docOf, textSchema } from './rich-text.ts';

/** What a text may hold, as its definition says: characters, and pieces. */
const MOST_SIZE = 20_000;
const MOST_PIECES = 500;

const breakLine: Command = (state, dispatch) => {
  dispatch?.(state.tr.replaceSelectionWith(textSchema.nodes.break.create(), true).scrollIntoView());
  return true;
};

interface Hands {
  /** Attributes of the box. */
  attributes: () => Record<string, string>;
  /** Whether a key was taken. */
  onKey: (event: KeyboardEvent) => boolean;
  /** After each change of the text or the selection. */
  onChange: (transaction: Transaction) => void;
  onPressFormula: (at: number) => void;
  onBlur: (event: FocusEvent) => void;
}

/** The text of an item, edited inside `place`; all of it is selected. What happens is told to the hands. */
export const openTextView = (place: HTMLElement, content: Content, hands: Hands): EditorView => {
  const doc = docOf(content);
  const view: EditorView = new EditorView(place, {
    state: EditorState.create({
      doc,
      // One of the text, not of the document: what is typed right after a cursor key then goes where the browser put the cursor.
      selection: TextSelection.create(doc, 0, doc.content.size),
      plugins: [history(), keymap({ 'Mod-z': undo, 'Mod-y': redo, 'Mod-Shift-z': redo, 'Shift-Enter': breakLine })],
    }),
    attributes: hands.attributes,
    dispatchTransaction: (transaction) => {
      const next = view.state.apply(transaction);
      // What would not fit into a definition is not taken.
      if (transaction.docChanged && (next.doc.content.size > MOST_SIZE || next.doc.childCount > MOST_PIECES)) return;
      view.updateState(next);
      hands.onChange(transaction);
    },
    handleKeyDown: (_, event) => hands.onKey(event),
    handleClickOn: (_, __, node, at, ___, isDirect) => {
      if (!isDirect || node.type !== textSchema.nodes.formula) return false;
      hands.onPressFormula(at);
      return true;
    },
    handleDOMEvents: { blur: (_, event) => hands.onBlur(event) },
    transformPastedHTML: withLines,
    clipboardTextParser: sliceOfText,
  });
  view.focus();
  return view;
};
