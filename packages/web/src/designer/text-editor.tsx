import type { ItemOf } from '@gaveta/core';
import { type CSSProperties, useEffect, useRef } from 'react';
import { useTranslation } from 'react-i18next';
import { useDesigner } from './state.ts';
import { pieceWords } from './words.ts';

type Content = ItemOf<'text'>['content'];

/** Reads edited text back: words as they stand, and the formulas that chips carry. */
const readContent = (root: HTMLElement, pieces: Content): Content => {
  const content: Content = [];
  const words = (text: string): void => {
    if (text === '') return;
    const last = content.at(-1);
    if (typeof last === 'string') content[content.length - 1] = last + text;
    else content.push(text);
  };
  const visit = (node: Node): void => {
    if (node instanceof HTMLElement && node.dataset.piece !== undefined) {
      const piece = pieces[Number(node.dataset.piece)];
      if (piece !== undefined) content.push(piece);
    } else if (node.nodeName === 'BR') words('\n');
    else if (node.nodeType === Node.TEXT_NODE) words(node.textContent ?? '');
    else {
      if (node.nodeName === 'DIV' && content.length > 0) words('\n');
      node.childNodes.forEach(visit);
    }
  };
  root.childNodes.forEach(visit);
  return content;
};

/** Text edited where it stands. Formulas and words with a look of their own are chips that can be deleted or typed around, not taken apart. */
export const TextEditor = ({ item, style }: { item: ItemOf<'text'>; style: CSSProperties }) => {
  const { t } = useTranslation();
  const root = useRef<HTMLDivElement>(null);
  const { edit, startEditing } = useDesigner.getState();

  useEffect(() => {
    const element = root.current!;
    element.replaceChildren(
      ...item.content.map((piece, i) => {
        if (typeof piece === 'string') return document.createTextNode(piece);
        const chip = document.createElement('span');
        chip.dataset.piece = String(i);
        chip.contentEditable = 'false';
        chip.textContent = pieceWords(piece);
        chip.className = 'rounded-sm bg-pine-soft px-0.5 text-[#2b4a43]';
        return chip;
      }),
    );
    element.focus();
    getSelection()?.selectAllChildren(element);
  }, [item.content]);

  const finish = (keep: boolean): void => {
    if (useDesigner.getState().editing !== item.id) return;
    const content = readContent(root.current!, item.content);
    startEditing(null);
    if (keep && JSON.stringify(content) !== JSON.stringify(item.content)) {
      edit(t('edits.text'), { do: 'set', items: [item.id], settings: { content } });
    }
    document.querySelector<HTMLElement>('[data-testid="board"]')?.focus({ preventScroll: true });
  };

  return (
    // biome-ignore lint/a11y/useSemanticElements: a text box cannot hold chips
    <div
      ref={root}
      role="textbox"
      tabIndex={0}
      aria-label={t('kinds.text')}
      contentEditable="plaintext-only"
      suppressContentEditableWarning
      className="min-h-full w-full cursor-text bg-white whitespace-pre-wrap outline-none select-text"
      style={style}
      onPointerDown={(event) => event.stopPropagation()}
      onBlur={() => finish(true)}
      onKeyDown={(event) => {
        event.stopPropagation();
        if (event.key === 'Escape') finish(false);
        if (event.key === 'Enter' && !event.shiftKey) {
          event.preventDefault();
          finish(true);
        }
      }}
    />
  );
};
