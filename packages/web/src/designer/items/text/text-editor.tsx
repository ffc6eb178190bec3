import {
  type Completion,
  completionsFor,
  type Edit,
  findItem,
  type ItemOf,
  type Look,
  type Style,
} from '@gaveta/core/internal';
import { useEffect, useId, useMemo, useRef, useState } from 'react';
import { createPortal } from 'react-dom';
import { useTranslation } from 'react-i18next';
import { useDesign } from '../../design/context.ts';
import { lookOf, textLook } from '../../design/looks.ts';
import { useDesigner } from '../../design/state.ts';
import { ChipPanel } from './chip-panel.tsx';
import { chipFor, readContent, writeContent } from './rich-text.ts';
import { TextTools } from './text-tools.tsx';
import { chosenChips, dressSelection, toggleFlag } from './word-looks.ts';

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

/** What belongs to the text that is edited, though it stands elsewhere. */
const BELONGS = '[data-text-tools], [data-radix-popper-content-wrapper], .cm-tooltip';

/** The chip right before the cursor, or the first one that is selected. */
const chipBefore = (root: HTMLElement): HTMLElement | null => {
  const [selected] = chosenChips(root);
  if (selected) return selected;
  const selection = getSelection();
  const node = selection?.focusNode;
  if (!selection || !node) return null;
  const isText = node.nodeType === Node.TEXT_NODE;
  const words = isText ? node.textContent!.slice(0, selection.focusOffset).replaceAll('\u200b', '') : '';
  const before = isText ? node.previousSibling : node.childNodes[selection.focusOffset - 1];
  return words === '' && before instanceof HTMLElement && before.dataset.formula !== undefined ? before : null;
};

/** Keys for ways of writing, with Ctrl. */
const FLAG_KEYS = { b: 'bold', i: 'italic', u: 'underline' } as const;

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
  const lastRange = useRef<Range | null>(null);
  const { report, plan } = useDesign();
  const { edit, attempt, startEditing } = useDesigner.getState();
  const [chip, setChip] = useState<HTMLElement | null>(null);
  /** How often a chip was opened: each time its panel begins anew. */
  const opened = useRef(0);
  const address = findItem(report, item.id)?.at.address ?? null;
  const [offer, setOffer] = useState<{ word: string; x: number; y: number; all: boolean } | null>(null);
  const [at, setAt] = useState(-1);
  const listId = useId();
  const look = lookOf(styles, item);
  const css = (own: Look): string => cssOf(own, scale);

  const reachable = useMemo(() => {
    const at = findItem(report, item.id)?.at.address;
    return at ? completionsFor(report, at, plan).filter((c) => KINDS.includes(c.kind)) : [];
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
    element.replaceChildren(...writeContent(item.content, css));
    element.focus();
    getSelection()?.selectAllChildren(element);
    document.execCommand('styleWithCSS', false, 'false');
    // A press anywhere but on the text and what belongs to it ends the editing, also while one of its panels has the focus.
    const onPress = (event: Event): void => {
      const { target } = event;
      if (target instanceof Element && !element.contains(target) && !target.closest(BELONGS)) latest.current(true);
    };
    // The last selection in the text, for choices that take the focus away.
    const onSelect = (): void => {
      const range = getSelection()?.rangeCount ? getSelection()!.getRangeAt(0) : null;
      if (range && element.contains(range.commonAncestorContainer)) lastRange.current = range.cloneRange();
    };
    document.addEventListener('pointerdown', onPress, true);
    document.addEventListener('selectionchange', onSelect);
    return () => {
      document.removeEventListener('pointerdown', onPress, true);
      document.removeEventListener('selectionchange', onSelect);
    };
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

  const latest = useRef(finish);
  latest.current = finish;

  /** Brings the keyboard back to the text, where it was. */
  const comeBack = (): void => {
    root.current!.focus({ preventScroll: true });
    const selection = getSelection();
    if (!lastRange.current || !selection) return;
    selection.removeAllRanges();
    selection.addRange(lastRange.current);
  };

  const dress = (change: () => void): void => {
    comeBack();
    change();
    attempt(edited());
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

  /** Puts a chip in the place of the selection, or of the word that was typed for it. */
  const insert = (formula: string): HTMLElement => {
    comeBack();
    const selection = getSelection()!;
    const range = selection.rangeCount > 0 ? selection.getRangeAt(0) : document.createRange();
    if (offer && !offer.all && range.startContainer.nodeType === Node.TEXT_NODE)
      range.setStart(range.startContainer, Math.max(0, range.startOffset - offer.word.length));
    range.deleteContents();
    const made = chipFor({ formula }, '');
    range.insertNode(made);
    goBehind(made);
    setOffer(null);
    return made;
  };

  /** Typing goes on behind a chip. */
  const goBehind = (element: HTMLElement): void => {
    const next = element.nextSibling;
    const behind = next?.nodeType === Node.TEXT_NODE ? next : document.createTextNode('\u200b');
    if (behind !== next) element.after(behind);
    getSelection()!.collapse(behind, behind.textContent!.startsWith('\u200b') ? 1 : 0);
  };

  const take = (choice: Completion): void => {
    insert(choice.insert);
    attempt(edited());
  };

  const openChip = (next: HTMLElement | null): void => {
    opened.current++;
    setChip(next);
  };

  const closeChip = (): void => {
    const closed = chip;
    setChip(null);
    if (!closed) return;
    root.current!.focus({ preventScroll: true });
    // A formula that was never written leaves nothing behind.
    if (closed.isConnected && closed.dataset.formula === '') closed.remove();
    else if (closed.isConnected) goBehind(closed);
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
        onClick={(event) => {
          const pressed = (event.target as Element).closest<HTMLElement>('[data-formula]');
          if (pressed) openChip(pressed);
        }}
        onBlur={(event) => {
          const { relatedTarget } = event;
          // Without one the window itself lost the focus, or a press follows that tells by itself.
          if (relatedTarget instanceof Element && !relatedTarget.closest(BELONGS)) finish(true);
        }}
        onPaste={(event) => {
          event.preventDefault();
          document.execCommand('insertText', false, event.clipboardData.getData('text/plain'));
        }}
        onKeyDown={(event) => {
          const isHeld = event.ctrlKey || event.metaKey;
          // Keys of the whole designer go on to it; what is saved is the text as it is now.
          if (!isHeld) event.stopPropagation();
          else if (event.key === 's') finish(true);
          const flag = isHeld ? FLAG_KEYS[event.key.toLowerCase() as keyof typeof FLAG_KEYS] : undefined;
          if (flag) {
            event.preventDefault();
            dress(() => toggleFlag(root.current!, flag, css));
            return;
          }
          const isOffering = offered.length > 0;
          if (isOffering && (event.key === 'ArrowDown' || event.key === 'ArrowUp')) {
            event.preventDefault();
            setAt((at + (event.key === 'ArrowDown' ? 1 : -1) + offered.length) % offered.length);
          } else if (isOffering && (event.key === 'Tab' || (event.key === 'Enter' && (at >= 0 || offer?.all)))) {
            event.preventDefault();
            take(offered[Math.max(0, at)]!);
          } else if (event.key === 'ArrowDown' && event.altKey) {
            event.preventDefault();
            openChip(chipBefore(root.current!));
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
      <TextTools
        anchor={root}
        report={report}
        onFlag={(flag) => dress(() => toggleFlag(root.current!, flag, css))}
        onLook={(words) => dress(() => dressSelection(root.current!, words, css))}
        onField={() => {
          comeBack();
          setOffer({ word: '', ...corner(), all: true });
        }}
        onFormula={() => openChip(insert(''))}
      />
      {chip && address && (
        <ChipPanel
          key={opened.current}
          chip={chip}
          address={address}
          onChange={(value) => {
            chip.dataset.formula = value.formula;
            chip.textContent = value.formula;
            if (value.format) chip.dataset.format = value.format;
            else delete chip.dataset.format;
            attempt(edited());
          }}
          onRemove={() => {
            chip.remove();
            closeChip();
            attempt(edited());
          }}
          onClose={closeChip}
        />
      )}
      {offer &&
        offered.length > 0 &&
        createPortal(
          <div
            data-text-tools
            id={listId}
            role="listbox"
            aria-label={t('text.fields')}
            className="fixed z-60 max-h-56 w-56 overflow-auto rounded-md border border-rule bg-paper p-1 shadow-lg"
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
