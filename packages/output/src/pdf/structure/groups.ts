import { type LinkMark, type Mark, type MarkRole, markExtent, type SlotMark } from '@gaveta/core/internal';

/** What belongs together on a page to who has it read: a text, a cell, a figure. */
export interface Group {
  kind: 'text' | 'figure';
  item: string;
  part: number | undefined;
  as: MarkRole | undefined;
  /** Its marks, by their places on the page, in order. */
  marks: number[];
  /** Of a figure. */
  alternative: string;
  /** Of what it covers, in points from the page’s top left corner. */
  x: number;
  y: number;
  width: number;
  height: number;
  /** First column of a cell of a crosstab. */
  column: number | undefined;
  /** Of a heading: its level in the outline; of one in no outline, below the one before it. */
  level: { outline: number } | { below: number } | null;
  /** Its words come later. */
  isLate: boolean;
}

/** Whether anything is drawn of a mark. */
export const isDrawn = (mark: Mark): boolean => {
  switch (mark.kind) {
    case 'region':
    case 'link':
    case 'anchor':
    case 'outline':
    case 'slot':
    case 'figure':
      return false;
    case 'fold':
      return mark.isClosed && !mark.isSwitch;
    default:
      return true;
  }
};

/** How far the baseline of late words may be from where their place ends, in points. */
const NEAR_SLOT = 3;

/** Which slot each mark of words that came late belongs to, by the place of both on the page. */
export const lateWords = (marks: readonly Mark[]): ReadonlyMap<number, number> => {
  const found = new Map<number, number>();
  if (!marks.some(({ kind }) => kind === 'slot')) return found;
  const slots = marks.flatMap((mark, at) => (mark.kind === 'slot' ? [{ mark, at }] : []));
  for (let at = slots[0]!.at; at < marks.length; at++) {
    const slot = slotOf(marks[at]!, slots);
    if (slot && slot.at < at) found.set(at, slot.at);
  }
  return found;
};

/** The slot that late words were kept; null when they are no such words. */
export const slotOf = <S extends { mark: SlotMark }>(mark: Mark, slots: readonly S[]): S | null => {
  if (mark.kind !== 'text' || mark.as === 'artifact') return null;
  let best: S | null = null;
  for (const slot of slots) {
    const { item, y, height } = slot.mark;
    if (item !== mark.item || mark.y < y - NEAR_SLOT || mark.y > y + height + NEAR_SLOT) continue;
    if (!best || y > best.mark.y) best = slot;
  }
  return best;
};

const groupOf = (mark: Mark, kind: Group['kind'], alternative = ''): Group => {
  const [top, bottom] = markExtent(mark);
  const width = 'width' in mark ? mark.width : 0;
  const text = mark.kind === 'text' ? mark : null;
  return {
    kind,
    item: mark.item ?? '',
    part: text?.part,
    as: 'as' in mark ? mark.as : undefined,
    marks: [],
    alternative,
    x: mark.x,
    y: top,
    width,
    height: bottom - top,
    column: text?.column,
    level: text?.level === undefined ? null : { below: text.level },
    isLate: false,
  };
};

const widen = (group: Group, mark: Mark): void => {
  const [top, bottom] = markExtent(mark);
  const right = Math.max(group.x + group.width, mark.x + ('width' in mark ? mark.width : 0));
  const end = Math.max(group.y + group.height, bottom);
  group.x = Math.min(group.x, mark.x);
  group.y = Math.min(group.y, top);
  group.width = right - group.x;
  group.height = end - group.y;
};

/** Groups of marks from one place on the page to before another; what is in none is decoration. */
export const groupsOf = (
  marks: readonly Mark[],
  from: number,
  to: number,
  late: ReadonlyMap<number, number>,
): Group[] => {
  const groups: Group[] = [];
  const slots = new Map<number, Group>();
  let figure: Group | null = null;
  for (let at = from; at < to; at++) {
    const mark = marks[at]!;
    switch (mark.kind) {
      case 'figure': {
        figure = mark.as === 'artifact' ? null : groupOf(mark, 'figure', mark.alternative);
        if (figure) groups.push(figure);
        break;
      }
      case 'picture':
      case 'shape': {
        if (mark.as === 'artifact' || mark.as === 'drawing' || mark.alternative === '') break;
        const group = groupOf(mark, 'figure', mark.alternative);
        group.marks.push(at);
        groups.push(group);
        break;
      }
      case 'text': {
        if (mark.as === 'artifact' || late.has(at)) break;
        if (mark.as === 'drawing') {
          if (figure?.item === mark.item) figure?.marks.push(at);
          break;
        }
        const found = inGroup(groups, mark.item ?? '', mark.part, mark.as);
        if (found) widen(found, mark);
        else groups.push(groupOf(mark, 'text'));
        (found ?? groups.at(-1)!).marks.push(at);
        break;
      }
      case 'slot': {
        const group = groupOf(mark, 'text');
        group.isLate = true;
        slots.set(at, group);
        groups.push(group);
        break;
      }
      case 'outline': {
        const headed = groups.findLast(({ item, as }) => item === mark.item && as === 'heading');
        if (headed) headed.level = { outline: mark.level };
        break;
      }
      case 'line':
      case 'rectangle':
      case 'path':
        if (mark.as === 'drawing' && figure?.item === mark.item) figure?.marks.push(at);
        break;
      case 'region':
      case 'link':
      case 'anchor':
      case 'fold':
        break;
      default:
        mark satisfies never;
    }
  }
  for (const [at, slot] of late) {
    const group = slots.get(slot);
    const mark = marks[at]!;
    if (!group) continue;
    if (group.marks.length === 0) Object.assign(group, { ...groupOf(mark, 'text'), as: group.as, isLate: false });
    else widen(group, mark);
    group.marks.push(at);
  }
  return groups.filter(({ kind, marks: own, isLate }) => (kind === 'text' ? own.length > 0 || isLate : own.length > 0));
};

/** The group that a text goes on with: the last one where items have parts, any of its item where they have none. */
const inGroup = (groups: readonly Group[], item: string, part: number | undefined, as: MarkRole | undefined) => {
  if (part !== undefined) {
    const last = groups.at(-1);
    return last?.item === item && last.part === part && last.as === as ? last : undefined;
  }
  if (item === '') return undefined;
  for (let i = groups.length - 1; i >= 0; i--) {
    const group = groups[i]!;
    const isSame = group.item === item && group.kind === 'text' && group.part === undefined;
    // Words that come late fill a place of their own.
    if (isSame && !group.isLate) return group;
  }
  return undefined;
};

/** Which link each of the marks between two places stands in, by the places of both on the page. */
export const linksOver = (
  marks: readonly Mark[],
  from: number,
  to: number,
  links: readonly { mark: LinkMark; at: number }[],
): ReadonlyMap<number, number> => {
  const found = new Map<number, number>();
  for (let at = from; at < to; at++) {
    const mark = marks[at]!;
    if (mark.kind !== 'text' && mark.kind !== 'picture' && mark.kind !== 'shape' && mark.kind !== 'figure') continue;
    const [top, bottom] = markExtent(mark);
    const [x, y] = [mark.x + mark.width / 2, (top + bottom) / 2];
    const over = links.find(({ mark: link }) => {
      const isBeside = x < link.x - 1 || x > link.x + link.width + 1;
      return !isBeside && y >= link.y - 1 && y <= link.y + link.height + 1;
    });
    if (over) found.set(at, over.at);
  }
  return found;
};
