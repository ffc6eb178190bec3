import type { Parameter, Step } from '@gaveta/core/internal';
import { create } from 'zustand';
import type { RecipeDraft } from '../api/client.ts';

interface History {
  done: RecipeDraft[];
  now: RecipeDraft;
  undone: RecipeDraft[];
  /** As it is stored; null for one that is new. */
  saved: RecipeDraft | null;
  base: number;
}

interface Drafts {
  drafts: Record<string, History>;
  open(id: string, draft: RecipeDraft, base: number): void;
  change(id: string, next: RecipeDraft): void;
  undo(id: string): void;
  redo(id: string): void;
  saved(id: string, draft: RecipeDraft, base: number): void;
  forget(id: string): void;
}

/** Recipes being changed. They stay while other screens are open, so that nothing is lost by looking elsewhere. */
export const useDrafts = create<Drafts>((set) => {
  const on = (id: string, change: (history: History) => History): void =>
    set(({ drafts }) => {
      const history = drafts[id];
      return history ? { drafts: { ...drafts, [id]: change(history) } } : {};
    });
  return {
    drafts: {},
    open: (id, draft, base) =>
      set(({ drafts }) =>
        drafts[id]
          ? {}
          : { drafts: { ...drafts, [id]: { done: [], now: draft, undone: [], saved: base > 0 ? draft : null, base } } },
      ),
    change: (id, next) => on(id, (h) => ({ ...h, done: [...h.done.slice(-199), h.now], now: next, undone: [] })),
    undo: (id) =>
      on(id, (h) => {
        const before = h.done.at(-1);
        return before ? { ...h, done: h.done.slice(0, -1), now: before, undone: [h.now, ...h.undone] } : h;
      }),
    redo: (id) =>
      on(id, (h) => {
        const [next, ...undone] = h.undone;
        return next ? { ...h, done: [...h.done, h.now], now: next, undone } : h;
      }),
    saved: (id, draft, base) => on(id, (h) => ({ ...h, saved: draft, base })),
    forget: (id) =>
      set(({ drafts }) => {
        const { [id]: _, ...rest } = drafts;
        return { drafts: rest };
      }),
  };
});

/** Undoes or redoes a draft where the key asks for it outside of text boxes, which undo their own typing. */
export const undoByKey = (
  event: Pick<KeyboardEvent, 'key' | 'ctrlKey' | 'metaKey' | 'shiftKey' | 'target' | 'preventDefault'>,
  id: string,
): void => {
  const key = event.key.toLowerCase();
  if (!(event.ctrlKey || event.metaKey) || (key !== 'z' && key !== 'y')) return;
  if ((event.target as HTMLElement).closest('.cm-editor, input, textarea')) return;
  event.preventDefault();
  const { undo, redo } = useDrafts.getState();
  if (key === 'y' || event.shiftKey) redo(id);
  else undo(id);
};

export const isChanged = (history: History): boolean => history.now !== history.saved;

export const withStep = (draft: RecipeDraft, at: number, step: Step): RecipeDraft => ({
  ...draft,
  steps: draft.steps.map((s, i) => (i === at ? step : s)),
});

export const withoutStep = (draft: RecipeDraft, at: number): RecipeDraft => ({
  ...draft,
  steps: draft.steps.filter((_, i) => i !== at),
});

/** The step at `from` moved by one place; the draft as it was when there is none. The first step stays first. */
export const movedStep = (draft: RecipeDraft, from: number, by: -1 | 1): RecipeDraft => {
  const to = from + by;
  if (from < 1 || to < 1 || to >= draft.steps.length) return draft;
  const steps = [...draft.steps];
  const [step] = steps.splice(from, 1);
  steps.splice(to, 0, step!);
  return { ...draft, steps };
};

export const withNewStep = (draft: RecipeDraft, step: Step, after: number): RecipeDraft => ({
  ...draft,
  steps: [...draft.steps.slice(0, after + 1), step, ...draft.steps.slice(after + 1)],
});

/** A name like `wanted` that nothing in `taken` has. */
export const freeName = (wanted: string, taken: readonly string[]): string => {
  const plain = wanted
    .trim()
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, '_')
    .replace(/^_+|_+$/g, '');
  const base = /^[\p{L}_]/u.test(plain) ? plain : `value_${plain}`;
  let name = base;
  for (let n = 2; taken.includes(name); n++) name = `${base}_${n}`;
  return name;
};

export const withParameter = (draft: RecipeDraft, parameter: Parameter): RecipeDraft => ({
  ...draft,
  parameters: [...draft.parameters.filter((p) => p.name !== parameter.name), parameter],
});
