import type { Look } from '@gaveta/core/internal';
import type { WordLook } from './rich-text.ts';

const lookOf = (element: HTMLElement): WordLook => JSON.parse(element.dataset.look ?? '{}') as WordLook;

/** Chips that the selection covers, at least in part. */
export const chosenChips = (root: HTMLElement): HTMLElement[] => {
  const selection = getSelection();
  if (!selection?.rangeCount || selection.isCollapsed) return [];
  const range = selection.getRangeAt(0);
  return [...root.querySelectorAll<HTMLElement>('[data-formula]')].filter((chip) => range.intersectsNode(chip));
};

const setLook = (element: HTMLElement, look: WordLook, css: (look: Look) => string): void => {
  if (Object.keys(look).length > 0) element.dataset.look = JSON.stringify(look);
  else delete element.dataset.look;
  element.style.cssText = css(look);
};

/** What elements inside say about the same settings gives way. */
const clear = (inside: HTMLElement, keys: readonly string[], css: (look: Look) => string): void => {
  for (const element of inside.querySelectorAll<HTMLElement>('[data-look]')) {
    const left = Object.entries(lookOf(element)).filter(([key]) => !keys.includes(key));
    setLook(element, Object.fromEntries(left), css);
  }
};

/** Gives the selected words and chips a look of their own, over what they had. `css` draws a look. */
export const dressSelection = (root: HTMLElement, look: WordLook, css: (look: Look) => string): void => {
  const chips = chosenChips(root);
  // The browser finds the words; the largest of its seven sizes marks them.
  document.execCommand('styleWithCSS', false, 'false');
  document.execCommand('fontSize', false, '7');
  for (const font of root.querySelectorAll('font[size="7"]')) {
    const span = document.createElement('span');
    span.append(...font.childNodes);
    clear(span, Object.keys(look), css);
    setLook(span, look, css);
    font.replaceWith(span);
  }
  for (const chip of chips) setLook(chip, { ...lookOf(chip), ...look }, css);
  // Marking takes sizes away from what is around.
  for (const element of root.querySelectorAll<HTMLElement>('[data-look]')) setLook(element, lookOf(element), css);
};

type Flag = 'bold' | 'italic' | 'underline' | 'strike';
const COMMANDS: Readonly<Record<Flag, string>> = {
  bold: 'bold',
  italic: 'italic',
  underline: 'underline',
  strike: 'strikeThrough',
};

/** Turns a way of writing on or off for the selected words and chips, or for what is typed next. */
export const toggleFlag = (root: HTMLElement, flag: Flag, css: (look: Look) => string): void => {
  const chips = chosenChips(root);
  const isChipAlone =
    chips.length > 0 && getSelection()?.toString().trim() === chips.map((c) => c.textContent).join('');
  const on = isChipAlone ? !chips.every((chip) => lookOf(chip)[flag]) : !document.queryCommandState(COMMANDS[flag]);
  if (!isChipAlone) document.execCommand(COMMANDS[flag]);
  for (const chip of chips) setLook(chip, { ...lookOf(chip), [flag]: on }, css);
};
