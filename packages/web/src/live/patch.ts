import { marksToSvg, type SvgPage } from '@gaveta/core/internal';

/** Marks to take out at a place, and those to put there instead. */
export interface MarkChange {
  at: number;
  remove: number;
  add: string[];
}

/** What turns one list of marks into another, from the end to the start, so that each place still counts when it comes. */
export const markChanges = (from: readonly string[], to: readonly string[]): MarkChange[] => {
  let head = 0;
  const shorter = Math.min(from.length, to.length);
  while (head < shorter && from[head] === to[head]) head++;
  let tail = 0;
  while (tail < shorter - head && from[from.length - 1 - tail] === to[to.length - 1 - tail]) tail++;
  const remove = from.length - tail - head;
  const add = to.slice(head, to.length - tail);
  if (remove === 0 && add.length === 0) return [];
  if (remove !== add.length) return [{ at: head, remove, add }];
  // As many as before: most likely some were only moved or written anew.
  const changes: MarkChange[] = [];
  for (let i = 0; i < remove; i++) {
    if (from[head + i] === add[i]) continue;
    const last = changes.at(-1);
    if (last && last.at + last.remove === head + i) {
      last.remove++;
      last.add.push(add[i]!);
    } else changes.push({ at: head + i, remove: 1, add: [add[i]!] });
  }
  return changes.reverse();
};

/** What a sheet shows. */
const shown = new WeakMap<Element, SvgPage>();

/**
 * Shows a page in a sheet. Only marks that differ are made anew: laying out the text of a page costs a browser several
 * times what it costs to make it.
 */
export const showPage = (sheet: Element, page: SvgPage): void => {
  const old = shown.get(sheet);
  if (old === page) return;
  shown.set(sheet, page);
  const svg = sheet.firstElementChild;
  const changes = old && svg && old.open === page.open ? markChanges(old.marks, page.marks) : null;
  const made = changes?.reduce((sum, { add }) => sum + add.length, 0) ?? 0;
  if (!changes || made * 2 > page.marks.length) {
    // The text of every mark is escaped by pageToMarks.
    sheet.innerHTML = marksToSvg(page);
    return;
  }
  // The first child is the paper.
  const children = svg!.children;
  for (const { at, remove, add } of changes) {
    const holder = document.createElementNS('http://www.w3.org/2000/svg', 'svg');
    holder.innerHTML = add.join('');
    const after = children[at + 1 + remove] ?? null;
    for (let i = 0; i < remove; i++) children[at + 1]!.remove();
    for (const mark of [...holder.children]) svg!.insertBefore(mark, after);
  }
};
