import { keep, type Memory, recall } from '../../ui/memory.ts';

export const WING_TABS = ['outline', 'pages', 'found'] as const;
export type WingTab = (typeof WING_TABS)[number];

/** How the wing was left: whether it is open, what it shows, and its width in CSS pixels. */
export interface WingState {
  /** Null: as it suits the report. */
  isOpen: boolean | null;
  tab: WingTab;
  width: number;
}

const KEY = 'gaveta.wing';
const USUAL: WingState = { isOpen: null, tab: 'outline', width: 240 };
const NARROWEST = 160;
const WIDEST = 520;

/** A width that leaves half the window to the pages. */
export const fitWidth = (width: number, room: number): number =>
  Math.round(Math.max(NARROWEST, Math.min(width, WIDEST, room / 2)));

export const rememberedWing = (memory: Memory): WingState => {
  const [open, tab, width] = recall(memory, KEY)?.split(' ') ?? [];
  const known = WING_TABS.find((one) => one === tab);
  if (!known) return USUAL;
  const number = Number(width);
  return {
    isOpen: open === 'open' ? true : open === 'closed' ? false : null,
    tab: known,
    width: number > 0 ? fitWidth(number, Number.POSITIVE_INFINITY) : USUAL.width,
  };
};

export const rememberWing = (memory: Memory, { isOpen, tab, width }: WingState): void =>
  keep(memory, KEY, `${isOpen === null ? 'fitting' : isOpen ? 'open' : 'closed'} ${tab} ${width}`);
