import { type Completion, completionsFor, type Edit, findItem, type ItemOf, type Look, type Style } from '@gaveta/core';
import { Bold, Italic, Plus, Underline } from 'lucide-react';
import { useEffect, useId, useMemo, useRef, useState } from 'react';
import { createPortal } from 'react-dom';
import { useTranslation } from 'react-i18next';
import { useDesign } from '../context.ts';
import { useDesigner } from '../state.ts';
import { lookOf, textLook } from './looks.ts';
import { chipFor, readContent, writeContent } from './rich-text.ts';

interface EditorProps {
  item: ItemOf<'text'>;
  styles: Readonly<Record<string, Style>>;
  scale: number;
}

const KINDS: readonly Completion['kind'][] = ['field', 'group', 'parameter', 'page'];
/** Letters after which fields are offered. */
const FEWEST = 2;
const MOST_OFFERED = 7;

const cssOf = (look: Look, scale: number): string => {
  const { fontWeight, fontStyle, textDecoration, color, fontSize } = textLook(look, scale);
  return [
    look.bold !== undefined && `font-weight:${fontWeight}`,
    look.italic !== undefined && `font-style:${fontStyle}`,
    textDecoration && `text-decoration:${textDecoration}`,
    look.color && `color:${color}`,
    look.size && `font-size:${fontSize}px`,
  ]
    .filter(Boolean)
    .join(';');
};

/** The word before the cursor, and how many characters it has. */
const wordBefore = (): string => {
  const selection = getSelection();
  const node = selection?.focusNode;
  if (!selection?.isCollapsed || node?.nodeType !== Node.TEXT_NODE) return '';
  return /[\p{L}\p{N}_.]+$/u.exec(node.textContent!.slice(0, selection.focusOffset))?.[0] ?? '';
};

/**
 * Text edited where it stands. Fields are offered while their names are typed; Tab takes the first, the arrows choose
 * another. They become chips that can be deleted or typed around.
 */
export const TextEditor = ({ item, styles, scale }: EditorProps) => {
  const { t } = useTranslation();
  const root = useRef<HTMLDivElement>(null);
  const { report, plan } = useDesign();
  const { edit, attempt, startEditing } = useDesigner.getState();
  const [offer, setOffer] = useState<{ word: string; x: number; y: number; all: boolean } | null>(null);
  const [at, setAt] = useState(-1);
  const listId = useId();
  const look = lookOf(styles, item);

  const reachable = useMemo(() => {
    const address = findItem(report, item.id)?.at.address;
    return address ? completionsFor(report, address, plan).filter((c) => KINDS.includes(c.kind)) : [];
  }, [report, item.id, plan]);
  const wanted = offer?.word.toLowerCase() ?? '';
  const offered = offer
    ? reachable
        .filter(
          (c) => offer.all || c.label.toLowerCase().startsWith(wanted) || c.insert.toLowerCase().startsWith(wanted),
        )
        .slice(0, offer.all ? 200 : MOST_OFFERED)
    : [];

  // biome-ignore lint/correctness/useExhaustiveDependencies: written once; the browser owns it while it is edited
  useEffect(() => {
    const element = root.current!;
    element.replaceChildren(...writeContent(item.content, (own) => cssOf(own, scale)));
    element.focus();
    getSelection()?.selectAllChildren(element);
    document.execCommand('styleWithCSS', false, 'false');
  }, [item.id]);

  /** The text as it is now; null when it is what it was. */
  const edited = (): Edit | null => {
    const content = readContent(root.current!);
    if (JSON.stringify(content) === JSON.stringify(item.content)) return null;
    return { do: 'set', items: [item.id], settings: { content } };
  };

  const finish = (keep: boolean): void => {
    if (useDesigner.getState().editing !== item.id) return;
    const change = keep ? edited() : null;
    startEditing(null);
    attempt(null);
    if (change) edit(t('edits.text'), change);
    document.querySelector<HTMLElement>('[data-testid="board"]')?.focus({ preventScroll: true });
  };

  /** Where the cursor is, in CSS pixels of the window. */
  const corner = (): { x: number; y: number } => {
    const range = getSelection()?.rangeCount ? getSelection()!.getRangeAt(0) : null;
    const box = range?.getClientRects()[0] ?? root.current!.getBoundingClientRect();
    return { x: box.left, y: box.bottom + 4 };
  };

  const offerFields = (): void => {
    const word = wordBefore();
    setAt(-1);
    setOffer(word.length >= FEWEST ? { word, ...corner(), all: false } : null);
  };

  const take = (choice: Completion): void => {
    const selection = getSelection()!;
    root.current!.focus();
    const range = selection.rangeCount > 0 ? selection.getRangeAt(0) : document.createRange();
    if (offer && !offer.all && range.startContainer.nodeType === Node.TEXT_NODE)
      range.setStart(range.startContainer, Math.max(0, range.startOffset - offer.word.length));
    range.deleteContents();
    const chip = chipFor({ formula: choice.insert }, '');
    range.insertNode(chip);
    // Typing goes on behind the chip.
    const behind = document.createTextNode('\u200b');
    chip.after(behind);
    selection.collapse(behind, 1);
    setOffer(null);
    attempt(edited());
  };

  return (
    <>
      {/* biome-ignore lint/a11y/useSemanticElements: a text box cannot hold chips */}
      <div
        ref={root}
        role="textbox"
        tabIndex={0}
        aria-label={t('kinds.text')}
        aria-multiline
        contentEditable
        suppressContentEditableWarning
        className="min-h-full w-full cursor-text bg-white text-ink whitespace-pre-wrap outline-none select-text"
        style={textLook(look, scale)}
        onPointerDown={(event) => event.stopPropagation()}
        aria-autocomplete="list"
        aria-controls={offered.length > 0 ? listId : undefined}
        aria-activedescendant={offered.length > 0 ? `${listId}-${Math.max(0, at)}` : undefined}
        onInput={() => {
          offerFields();
          attempt(edited());
        }}
        onBlur={(event) => {
          if (!(event.relatedTarget instanceof Element && event.relatedTarget.closest('[data-text-tools]')))
            finish(true);
        }}
        onPaste={(event) => {
          event.preventDefault();
          document.execCommand('insertText', false, event.clipboardData.getData('text/plain'));
        }}
        onKeyDown={(event) => {
          event.stopPropagation();
          const isOffering = offered.length > 0;
          if (isOffering && (event.key === 'ArrowDown' || event.key === 'ArrowUp')) {
            event.preventDefault();
            setAt((at + (event.key === 'ArrowDown' ? 1 : -1) + offered.length) % offered.length);
          } else if (isOffering && (event.key === 'Tab' || (event.key === 'Enter' && (at >= 0 || offer?.all)))) {
            event.preventDefault();
            take(offered[Math.max(0, at)]!);
          } else if (event.key === ' ' && event.ctrlKey) {
            event.preventDefault();
            setOffer({ word: '', ...corner(), all: true });
          } else if (event.key === 'Escape') {
            if (isOffering) setOffer(null);
            else finish(false);
          } else if (event.key === 'Enter' && !event.shiftKey) {
            event.preventDefault();
            finish(true);
          } else if (event.key === 'Tab') {
            event.preventDefault();
            finish(true);
          }
        }}
      />
      <Tools
        anchor={root}
        onField={() => {
          root.current!.focus();
          setOffer({ word: '', ...corner(), all: true });
        }}
      />
      {offer &&
        offered.length > 0 &&
        createPortal(
          <div
            data-text-tools
            id={listId}
            role="listbox"
            aria-label={t('text.fields')}
            className="fixed z-50 max-h-56 w-56 overflow-auto rounded-md border border-rule bg-paper p-1 shadow-lg"
            style={{
              left: Math.min(offer.x, window.innerWidth - 240),
              top: Math.min(offer.y, window.innerHeight - 230),
            }}
          >
            {offered.map((choice, i) => (
              // biome-ignore lint/a11y/useKeyWithClickEvents: the text box has the keyboard
              <div
                key={choice.insert}
                id={`${listId}-${i}`}
                role="option"
                tabIndex={-1}
                aria-selected={i === Math.max(0, at)}
                className="flex w-full cursor-default items-baseline gap-2 rounded px-1.5 py-0.5 aria-selected:bg-pine-soft"
                onPointerDown={(event) => event.preventDefault()}
                onClick={() => take(choice)}
              >
                <span className="truncate">{choice.label}</span>
                <span className="ml-auto truncate font-mono text-[10.5px] text-ink-3">{choice.insert}</span>
              </div>
            ))}
          </div>,
          document.body,
        )}
    </>
  );
};

/** Bold, italic, underline and a field, above the text that is edited. */
const Tools = ({ anchor, onField }: { anchor: React.RefObject<HTMLDivElement | null>; onField: () => void }) => {
  const { t } = useTranslation();
  const [corner, setCorner] = useState<{ left: number; top: number } | null>(null);
  useEffect(() => {
    const box = anchor.current!.getBoundingClientRect();
    setCorner({ left: Math.max(4, Math.min(box.left, window.innerWidth - 220)), top: Math.max(4, box.top - 36) });
  }, [anchor]);
  if (!corner) return null;
  const tool = (label: string, icon: React.ReactNode, act: () => void) => (
    <button
      type="button"
      aria-label={label}
      title={label}
      className="flex h-6 min-w-6 items-center justify-center gap-1 rounded px-1 hover:bg-desk"
      onPointerDown={(event) => event.preventDefault()}
      onClick={act}
    >
      {icon}
    </button>
  );
  return createPortal(
    <div
      data-text-tools
      role="toolbar"
      aria-label={t('text.tools')}
      className="fixed z-50 flex gap-0.5 rounded-md border border-rule bg-paper p-0.5 text-[12px] shadow-md"
      style={corner}
    >
      {tool(t('designer.bold'), <Bold size={13} />, () => document.execCommand('bold'))}
      {tool(t('designer.italic'), <Italic size={13} />, () => document.execCommand('italic'))}
      {tool(t('look.underline'), <Underline size={13} />, () => document.execCommand('underline'))}
      {tool(
        t('text.insertField'),
        <>
          <Plus size={12} /> {t('text.field')}
        </>,
        onField,
      )}
    </div>,
    document.body,
  );
};
