import { type RefObject, useEffect } from 'react';
import { selectedTexts } from './selected-texts.ts';
import { asHtml, asPlainText, cellsOf } from './table-text.ts';

/** What is selected on pages is copied in reading order: as lines, or as a table where it stands in columns. */
export const useCopying = (scroller: RefObject<HTMLElement | null>): void => {
  useEffect(() => {
    const { current } = scroller;
    if (!current) return;
    const copy = (event: ClipboardEvent): void => {
      const selection = getSelection();
      if (!selection || !event.clipboardData) return;
      const cells = cellsOf(selectedTexts(selection, current));
      if (cells.length === 0) return;
      event.preventDefault();
      event.clipboardData.setData('text/plain', asPlainText(cells));
      if (cells.some((row) => row.length > 1)) event.clipboardData.setData('text/html', asHtml(cells));
    };
    current.addEventListener('copy', copy);
    return () => current.removeEventListener('copy', copy);
  }, [scroller]);
};
