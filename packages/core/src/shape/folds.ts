import type { PlannedFold } from '../data/planned.ts';
import { compileFormula } from '../formula/compile.ts';
import type { Compiled, EvaluationContext } from '../formula/functions/context.ts';
import { hashOf } from '../value/hash.ts';

export const FOLD_BASES = ['start', 'open', 'closed'] as const;

/** What of a report is closed: everything as it starts, open or closed, but for those that were turned the other way. */
export interface FoldState {
  base: (typeof FOLD_BASES)[number];
  /** Keys of what is the other way; see {@link FoldSign}. */
  turned: readonly string[];
}

export const AS_STARTED: FoldState = { base: 'start', turned: [] };

/** The state after one more was opened or closed. */
export const turnFold = ({ base, turned }: FoldState, key: string): FoldState => ({
  base,
  turned: turned.includes(key) ? turned.filter((one) => one !== key) : [...turned, key],
});

/** Characters of a key: values that groups go by may be long texts. */
const LONGEST_KEY = 400;

/** A key of its parts, from the outside in. */
export const foldKeyOf = (parts: readonly string[]): string => {
  const key = parts.join('|');
  return key.length <= LONGEST_KEY ? key : `${key.slice(0, LONGEST_KEY)}#${hashOf(key)}`;
};

/** Begins the key of what is switched on and off by itself, as a series of a chart: it is on at first, whatever is opened or closed. */
const SWITCH = '=';

export const switchKeyOf = (parts: readonly string[]): string => SWITCH + foldKeyOf(parts);

export const isSwitchKey = (key: string): boolean => key.startsWith(SWITCH);

/** What of a state is switched off, where everything else is opened or closed at once. */
export const switchesOf = ({ turned }: FoldState): string[] => turned.filter(isSwitchKey);

/** Something that the reader opens and closes, as it is now. */
export interface FoldSign {
  /** Names it by the rows that it stands for, so that it is found again where they are. */
  key: string;
  isClosed: boolean;
  /** The reader has it closed, while everything is told of as open. */
  isCollapsed?: boolean;
}

/** Whether something is closed before anybody has opened or closed it. */
export interface PreparedFold {
  isClosed: boolean;
  closedIf: Compiled | null;
}

/** A fold of rows. */
export interface ShapeFold extends PreparedFold {
  hidesFooter: boolean;
}

export const prepareFold = ({ fold, closedIf }: PlannedFold): ShapeFold => ({
  isClosed: fold.closed ?? false,
  closedIf: closedIf && compileFormula(closedIf),
  hidesFooter: 'hidesFooter' in fold && fold.hidesFooter === true,
});

/** Hears of each decision in order, and may know what comes next without deciding. */
export interface FoldLog {
  next(): FoldSign | null;
  decided(sign: FoldSign, startsClosed: boolean): void;
}

/** Decides what is closed while a report runs. */
export class Folds {
  private readonly turned: ReadonlySet<string>;

  /** `isOpen`: everything is told of as open, with what is closed in the state noted. */
  constructor(
    private readonly state: FoldState = AS_STARTED,
    private readonly log: FoldLog | null = null,
    private readonly isOpen = false,
  ) {
    this.turned = new Set(state.turned);
  }

  /** Whether something is switched off, by its key. */
  switched(key: string): FoldSign {
    const known = this.log?.next();
    if (known) return known;
    const sign = { key, isClosed: this.turned.has(key) };
    this.log?.decided(sign, false);
    return sign;
  }

  /** `context`: with the rows current that its condition reads. `isOpen`: it is told of as open, whatever it is. */
  sign(fold: PreparedFold, keyOf: () => string, context: EvaluationContext, isOpen = this.isOpen): FoldSign {
    const known = this.log?.next();
    if (known) return known;
    const startsClosed = fold.closedIf ? fold.closedIf(context) === true : fold.isClosed;
    const key = keyOf();
    const isClosed = isClosedIn(this.state, this.turned, key, startsClosed);
    const sign = isOpen ? { key, isClosed: false, isCollapsed: isClosed } : { key, isClosed };
    this.log?.decided(sign, startsClosed);
    return sign;
  }
}

const isClosedIn = ({ base }: FoldState, turned: ReadonlySet<string>, key: string, startsClosed: boolean): boolean => {
  if (isSwitchKey(key)) return turned.has(key);
  const isClosed = base === 'start' ? startsClosed : base === 'closed';
  return turned.has(key) ? !isClosed : isClosed;
};

/** Finds whether a state closes something. */
export const closedBy = (state: FoldState): ((key: string, startsClosed: boolean) => boolean) => {
  const turned = new Set(state.turned);
  return (key, startsClosed) => isClosedIn(state, turned, key, startsClosed);
};
