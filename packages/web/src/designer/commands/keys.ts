/** A key as commands name it: `Ctrl+Shift+G`, `Alt+ArrowUp`, `/`. Ctrl stands for Cmd on a Mac too. */
export const isKey = (event: KeyboardEvent, keys: string): boolean => {
  const parts = keys.split('+');
  const key = parts.pop() || '+';
  const wants = (name: string): boolean => parts.includes(name);
  if ((event.ctrlKey || event.metaKey) !== wants('Ctrl') || event.altKey !== wants('Alt')) return false;
  // Signs are typed with Shift on some keyboards and without it on others.
  const isSign = key.length === 1 && !/[a-z0-9]/i.test(key);
  if (!isSign && event.shiftKey !== wants('Shift')) return false;
  return event.key.toLowerCase() === key.toLowerCase();
};

const SHOWN: Readonly<Record<string, string>> = {
  ArrowUp: '↑',
  ArrowDown: '↓',
  ArrowLeft: '←',
  ArrowRight: '→',
  Delete: 'Del',
};

/** The key as it is shown: `Ctrl Shift G`. */
export const shownKey = (keys: string): string =>
  keys
    .split(/\+(?=.)/)
    .map((part) => SHOWN[part] ?? part)
    .join(' ');

/** Boxes in which nothing is typed. */
const NOT_TYPED = ['checkbox', 'radio', 'color', 'range', 'button', 'file'].map((type) => `:not([type="${type}"])`);
const TYPED = `input${NOT_TYPED.join('')}, textarea`;
/** Boxes that take arrows, Enter and letters, and nothing with Ctrl. */
const CHOOSING = 'input, [role="combobox"], [role="listbox"]';

/** Whether text is written there. */
export const inTextBox = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement && (target.isContentEditable || target.closest(TYPED) !== null);

/** Gives way to text boxes and lists of choices: keys that mean something there are theirs. */
export const takesKey = ({ target, ctrlKey, metaKey }: KeyboardEvent): boolean =>
  inTextBox(target) || (!ctrlKey && !metaKey && target instanceof HTMLElement && target.closest(CHOOSING) !== null);
