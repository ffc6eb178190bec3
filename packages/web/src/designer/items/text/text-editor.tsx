import { type Completion, completionsFor, type Edit, findItem } from '@gaveta/core/internal';
import { type EditorState, TextSelection, type Transaction } from 'prosemirror-state';
import type { EditorView } from 'prosemirror-view';
import { type CSSProperties, useEffect, useId, useMemo, useRef, useState } from 'react';
import { useTranslation } from '../../../i18n/use-translation.ts';
import { useDesign } from '../../design/context.ts';
import { lookOf, pixelsPerPoint, textLook } from '../../design/looks.ts';
import { useDesigner } from '../../design/state.ts';
import type { BoardProps } from '../room.ts';
import { ChipPanel, type PieceValue } from './chip-panel.tsx';
import { FieldOffers } from './field-offers.tsx';
import { contentOf, docOf, type Flag, formulaNode, textSchema } from './rich-text.ts';
import { TextTools } from './text-tools.tsx';
import { openTextView } from './text-view.ts';
import { dressSelection, toggleFlag } from './word-looks.ts';

const KINDS: readonly Completion['kind'][] = ['field', 'group', 'parameter', 'page'];
/** Letters after which fields are offered. */
const FEWEST = 2;
const MOST_OFFERED = 7;

/** What belongs to the text that is edited, though it stands elsewhere. */
const BELONGS = '[data-text-tools], [data-radix-popper-content-wrapper], .cm-tooltip';

/** Keys for ways of writing, with Ctrl. */
const FLAG_KEYS: Readonly<Record<string, Flag>> = { b: 'bold', i: 'italic', u: 'underline' };

/** The word before the cursor. */
const wordBefore = ({ selection }: EditorState): string => {
  const { $from, empty } = selection;
  if (!empty) return '';
  return /[\p{L}\p{N}_.]+$/u.exec($from.parent.textBetween(0, $from.parentOffset, null, '\ufffc'))?.[0] ?? '';
};

/** Where the first formula of the selection is, or the one right before the cursor; null without one. */
const formulaAt = ({ selection, doc }: EditorState): number | null => {
  const { from, to, $from } = selection;
  if ($from.nodeBefore?.type === textSchema.nodes.formula && selection.empty) return from - 1;
  let found: number | null = null;
  doc.nodesBetween(from, to, (node, at) => {
    if (found === null && node.type === textSchema.nodes.formula) found = at;
  });
  return found;
};

interface Offer {
  /** What was typed of the name. */
  word: string;
  /** In CSS pixels of the window. */
  at: { x: number; y: number };
  /** Every field, not only those that begin with the word. */
  all: boolean;
}

/** A formula whose settings are open. */
interface OpenFormula {
  /** Where it is in the text. */
  pos: number;
  value: PieceValue;
  /** Its box when it was opened, in CSS pixels of the window. */
  box: DOMRect;
}

/**
 * Text edited where it stands. Fields are offered while their names are typed; Tab takes the first, the arrows choose
 * another. They become chips that can be deleted or typed around.
 */
export const TextEditor = ({ item, styles, scale }: BoardProps<'text'>) => {
  const { t } = useTranslation();
  const place = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView | null>(null);
  const { report, plan } = useDesign();
  const { edit, attempt, startEditing } = useDesigner.getState();
  const [open, setOpen] = useState<OpenFormula | null>(null);
  const address = findItem(report, item.id)?.at.address ?? null;
  const [offer, setOffer] = useState<Offer | null>(null);
  const [at, setAt] = useState(-1);
  const listId = useId();
  const look = lookOf(styles, item);

  const reachable = useMemo(
    () => (address ? completionsFor(report, address, plan).filter((c) => KINDS.includes(c.kind)) : []),
    [report, address, plan],
  );
  const wanted = offer?.word.toLowerCase() ?? '';
  const offered = offer
    ? reachable
        .filter(
          (c) => offer.all || c.label.toLowerCase().startsWith(wanted) || c.insert.toLowerCase().startsWith(wanted),
        )
        .slice(0, offer.all ? 200 : MOST_OFFERED)
    : [];
  const marked = Math.max(0, at);

  /** The text as it is now; null when it is what it was. */
  const edited = (): Edit | null => {
    const { doc } = view.current!.state;
    if (doc.eq(docOf(item.content))) return null;
    return { do: 'set', items: [item.id], settings: { content: contentOf(doc) } };
  };

  const finish = (keep: boolean): void => {
    if (useDesigner.getState().editing !== item.id) return;
    const change = keep ? edited() : null;
    startEditing(null);
    attempt(null);
    if (change) edit(t('edits.text'), change);
    document.querySelector<HTMLElement>('[data-testid="board"]')?.focus({ preventScroll: true });
  };

  const dispatch = (transaction: Transaction): void => {
    view.current!.focus();
    view.current!.dispatch(transaction);
  };

  /** Where the cursor is, in CSS pixels of the window. */
  const corner = (): { x: number; y: number } => {
    const { left, bottom } = view.current!.coordsAtPos(view.current!.state.selection.from);
    return { x: left, y: bottom + 4 };
  };

  const offerAll = (): void => setOffer({ word: '', at: corner(), all: true });

  /** Puts a formula in the place of the selection, or of the word that was typed for it; gives where it is. */
  const insert = (formula: string): number => {
    const { state } = view.current!;
    const { from, to, $from } = state.selection;
    const start = offer && !offer.all ? Math.max(0, from - offer.word.length) : from;
    const marks = state.storedMarks ?? $from.marks();
    const tr = state.tr.replaceWith(start, to, formulaNode(formula, null, marks));
    dispatch(tr.setSelection(TextSelection.create(tr.doc, start + 1)).setStoredMarks(marks));
    setOffer(null);
    return start;
  };

  const openFormula = (pos: number): void => {
    const node = view.current!.state.doc.nodeAt(pos);
    const element = view.current!.nodeDOM(pos);
    if (node?.type !== textSchema.nodes.formula || !(element instanceof HTMLElement)) return;
    const { formula, format } = node.attrs as { formula: string; format: string | null };
    setOpen({ pos, value: { formula, format: format ?? undefined }, box: element.getBoundingClientRect() });
  };

  const closeFormula = (isRemoved: boolean): void => {
    if (!open) return;
    setOpen(null);
    const { pos } = open;
    const { tr, doc } = view.current!.state;
    // A formula that was never written leaves nothing behind. What was typed last is in the text before it is drawn here.
    if (isRemoved || doc.nodeAt(pos)?.attrs.formula === '') dispatch(tr.delete(pos, pos + 1));
    // Typing goes on behind it.
    else dispatch(tr.setSelection(TextSelection.create(tr.doc, pos + 1)));
  };

  const onKey = (event: KeyboardEvent): boolean => {
    const isHeld = event.ctrlKey || event.metaKey;
    // Keys of the whole designer go on to it; what is saved is the text as it is now.
    if (isHeld && event.key === 's') {
      finish(true);
      return false;
    }
    const flag = isHeld ? FLAG_KEYS[event.key.toLowerCase()] : undefined;
    const isOffering = offered.length > 0;
    if (flag) dispatch(toggleFlag(view.current!.state, flag, look));
    else if (isOffering && (event.key === 'ArrowDown' || event.key === 'ArrowUp') && !event.altKey)
      setAt((at + (event.key === 'ArrowDown' ? 1 : -1) + offered.length) % offered.length);
    else if (isOffering && (event.key === 'Tab' || (event.key === 'Enter' && (at >= 0 || offer?.all))))
      insert(offered[marked]!.insert);
    else if (event.key === 'ArrowDown' && event.altKey) {
      const found = formulaAt(view.current!.state);
      if (found !== null) openFormula(found);
    } else if (event.key === ' ' && event.ctrlKey) offerAll();
    else if (event.key === 'Escape') {
      if (isOffering) setOffer(null);
      else finish(false);
    } else if ((event.key === 'Enter' && !event.shiftKey) || event.key === 'Tab') finish(true);
    else return false;
    return true;
  };

  const onChange = ({ docChanged, selectionSet, mapping }: Transaction): void => {
    const { state } = view.current!;
    if (docChanged) {
      attempt(edited());
      setOpen((was) => was && { ...was, pos: mapping.map(was.pos) });
    }
    const word = wordBefore(state);
    setAt(-1);
    if (docChanged) setOffer(word.length >= FEWEST ? { word, at: corner(), all: false } : null);
    else if (selectionSet) setOffer(null);
  };

  const attributes = (): Record<string, string> => ({
    role: 'textbox',
    'aria-label': t('kinds.text'),
    'aria-multiline': 'true',
    'aria-autocomplete': 'list',
    class: 'min-h-full w-full cursor-text outline-none select-text',
    ...(offered.length > 0 ? { 'aria-controls': listId, 'aria-activedescendant': `${listId}-${marked}` } : {}),
  });

  const latest = useRef({ finish, onKey, onChange, openFormula, attributes });
  latest.current = { finish, onKey, onChange, openFormula, attributes };

  // biome-ignore lint/correctness/useExhaustiveDependencies: the view holds the text while it is edited
  useEffect(() => {
    const made = openTextView(place.current!, item.content, {
      attributes: () => latest.current.attributes(),
      onKey: (event) => latest.current.onKey(event),
      onChange: (transaction) => latest.current.onChange(transaction),
      onPressFormula: (pos) => latest.current.openFormula(pos),
      // Without a target the window itself lost the focus, or a press follows that tells by itself.
      onBlur: ({ relatedTarget }) => {
        if (relatedTarget instanceof Element && !relatedTarget.closest(BELONGS)) latest.current.finish(true);
      },
    });
    view.current = made;
    // A press anywhere but on the text and what belongs to it ends the editing, also while one of its panels has the focus.
    const onPress = ({ target }: Event): void => {
      if (target instanceof Element && !made.dom.contains(target) && !target.closest(BELONGS))
        latest.current.finish(true);
    };
    document.addEventListener('pointerdown', onPress, true);
    return () => {
      document.removeEventListener('pointerdown', onPress, true);
      view.current = null;
      made.destroy();
    };
  }, [item.id]);

  // What is offered is told to those who hear the text box.
  // biome-ignore lint/correctness/useExhaustiveDependencies: by what its attributes are made of
  useEffect(() => view.current?.setProps({}), [offered.length, marked]);

  return (
    <>
      {/* biome-ignore lint/a11y/noStaticElementInteractions: the text box stands inside; presses and keys in it are no presses of the board */}
      <div
        ref={place}
        className="min-h-full w-full bg-white text-ink"
        style={{ ...textLook(look, scale), '--pt': `${pixelsPerPoint(scale)}px` } as CSSProperties}
        onPointerDown={(event) => event.stopPropagation()}
        // Keys with Ctrl are the whole designer’s.
        onKeyDown={(event) => {
          if (!event.ctrlKey && !event.metaKey) event.stopPropagation();
        }}
      />
      <TextTools
        anchor={place}
        report={report}
        onFlag={(flag) => dispatch(toggleFlag(view.current!.state, flag, look))}
        onLook={(words) => dispatch(dressSelection(view.current!.state, words))}
        onField={() => {
          view.current!.focus();
          offerAll();
        }}
        onFormula={() => openFormula(insert(''))}
      />
      {open && address && (
        <ChipPanel
          key={`${open.box.left} ${open.box.top}`}
          value={open.value}
          box={open.box}
          address={address}
          onChange={(value) => {
            setOpen({ ...open, value });
            const { formula, format = null } = value;
            const { state } = view.current!;
            // The panel keeps the keyboard.
            view.current!.dispatch(
              state.tr.setNodeMarkup(open.pos, null, { formula, format }, state.doc.nodeAt(open.pos)?.marks ?? []),
            );
          }}
          onRemove={() => closeFormula(true)}
          onClose={() => closeFormula(false)}
        />
      )}
      {offer && offered.length > 0 && (
        <FieldOffers
          id={listId}
          offered={offered}
          marked={marked}
          at={offer.at}
          onTake={(choice) => insert(choice.insert)}
        />
      )}
    </>
  );
};
