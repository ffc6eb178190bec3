import type { Look } from '@gaveta/core/internal';
import type { Mark } from 'prosemirror-model';
import type { EditorState, Transaction } from 'prosemirror-state';
import { type Flag, marksOf, textSchema, type WordLook } from './rich-text.ts';

/** What is typed next has these marks. */
const nextMarks = (state: EditorState): readonly Mark[] => state.storedMarks ?? state.selection.$from.marks();

/** Gives the selected words and formulas, or what is typed next, a look of their own, over what they had. */
export const dressSelection = (state: EditorState, look: WordLook): Transaction => {
  const { empty, from, to } = state.selection;
  const { tr } = state;
  for (const mark of marksOf(look)) {
    if (empty) tr.addStoredMark(mark);
    else tr.addMark(from, to, mark);
  }
  return tr;
};

/** Turns a way of writing on or off for the selected words and formulas, or for what is typed next. `base` is the look of the whole text. */
export const toggleFlag = (state: EditorState, flag: Flag, base: Look): Transaction => {
  const type = textSchema.marks[flag];
  const { empty, from, to } = state.selection;
  const usual = base[flag] ?? false;
  const isOn = (marks: readonly Mark[]): boolean => (type.isInSet(marks)?.attrs.value as boolean | undefined) ?? usual;
  let isAllOn = true;
  if (empty) isAllOn = isOn(nextMarks(state));
  else
    state.doc.nodesBetween(from, to, (node) => {
      if (node.isInline) isAllOn &&= isOn(node.marks);
    });
  const { tr } = state;
  // What the whole text has anyway needs no mark.
  if (isAllOn !== usual) return empty ? tr.removeStoredMark(type) : tr.removeMark(from, to, type);
  const mark = type.create({ value: !isAllOn });
  return empty ? tr.addStoredMark(mark) : tr.addMark(from, to, mark);
};
