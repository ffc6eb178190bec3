import { useEffect, useRef } from 'react';
import { useTranslation } from '../i18n/use-translation.ts';
import { copySelected, cutSelected, pasteText, placePicture } from './commands/clipboard.ts';
import { type Command, commands, type ScreenActions } from './commands/commands.ts';
import { inTextBox, isKey, takesKey } from './commands/keys.ts';
import { useOverlay } from './design/overlay.ts';

/** Keys and the clipboard of the whole designer. `onTrouble` is told in words what could not be done. */
export const useKeys = (screen: ScreenActions, onTrouble: (words: string) => void): void => {
  const { t } = useTranslation();
  const latest = useRef({ screen, onTrouble });
  latest.current = { screen, onTrouble };
  useEffect(() => {
    const run = (command: Command, event: KeyboardEvent): void => {
      event.preventDefault();
      // What is being typed counts: leaving the box takes it over.
      if (document.activeElement instanceof HTMLElement && inTextBox(document.activeElement) && command.id === 'save')
        document.activeElement.blur();
      command.run(t);
    };
    const onKey = (event: KeyboardEvent): void => {
      if (event.defaultPrevented || useOverlay.getState().shown) return;
      const typing = takesKey(event);
      const found = commands(latest.current.screen).find(
        (c) =>
          !c.isNative &&
          (c.everywhere || !typing) &&
          [c.keys, ...(c.also ?? [])].some((keys) => keys && isKey(event, keys)) &&
          (!c.when || c.when()),
      );
      if (found) run(found, event);
    };
    const onCopy = (event: ClipboardEvent): void => {
      if (inTextBox(event.target) || getSelection()?.toString()) return;
      const text = event.type === 'cut' ? cutSelected(t) : copySelected();
      if (text === null) return;
      event.preventDefault();
      event.clipboardData?.setData('text/plain', text);
    };
    const onPaste = async (event: ClipboardEvent): Promise<void> => {
      if (inTextBox(event.target)) return;
      const file = [...(event.clipboardData?.files ?? [])].find((f) => f.type.startsWith('image/'));
      event.preventDefault();
      if (file) {
        const trouble = await placePicture(t, file);
        if (trouble) latest.current.onTrouble(trouble);
      } else pasteText(t, event.clipboardData?.getData('text/plain') || undefined);
    };
    window.addEventListener('keydown', onKey);
    window.addEventListener('copy', onCopy);
    window.addEventListener('cut', onCopy);
    window.addEventListener('paste', onPaste);
    return () => {
      window.removeEventListener('keydown', onKey);
      window.removeEventListener('copy', onCopy);
      window.removeEventListener('cut', onCopy);
      window.removeEventListener('paste', onPaste);
    };
  }, [t]);
};
