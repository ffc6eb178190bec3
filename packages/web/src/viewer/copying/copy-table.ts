import { asHtml, asPlainText } from './table-text.ts';

/** Puts cells onto the clipboard, as a table and as lines with tabs. Throws where the browser does not let it. */
export const copyCells = async (cells: readonly (readonly string[])[]): Promise<void> => {
  const text = asPlainText(cells);
  const parts = {
    'text/plain': new Blob([text], { type: 'text/plain' }),
    'text/html': new Blob([asHtml(cells)], { type: 'text/html' }),
  };
  try {
    await navigator.clipboard.write([new ClipboardItem(parts)]);
  } catch {
    // In a frame whose host does not allow it, what is selected can still be copied by a command.
    copyByCommand(text, asHtml(cells));
  }
};

const copyByCommand = (text: string, html: string): void => {
  const put = (event: ClipboardEvent): void => {
    event.clipboardData?.setData('text/plain', text);
    event.clipboardData?.setData('text/html', html);
    event.preventDefault();
    event.stopImmediatePropagation();
  };
  document.addEventListener('copy', put, { capture: true, once: true });
  const isDone = document.execCommand('copy');
  document.removeEventListener('copy', put, { capture: true });
  if (!isDone) throw new Error('copying is not allowed here');
};
