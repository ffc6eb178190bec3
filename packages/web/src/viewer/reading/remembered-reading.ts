import { keep, type Memory, recall } from '../../ui/memory.ts';
import { clampZoom, READING_MODES, type ReadingMode, type Zoom } from './modes.ts';

const KEY = 'gaveta.reading';

/** How somebody reads. */
export interface ReadingWay {
  mode: ReadingMode;
  zoom: Zoom;
}

const USUAL: ReadingWay = { mode: 'continuous', zoom: 'auto' };
/** Where there is no room beside a page, and a finger turns it. */
const USUAL_NARROW: ReadingWay = { mode: 'single', zoom: 'width' };

const zoomOf = (text: string | undefined): Zoom => {
  if (text === 'width' || text === 'page') return text;
  const number = Number(text);
  return number > 0 ? clampZoom(number) : 'auto';
};

/** How pages were read last; continuous at their actual size where nothing is known, and one at a time where a window is narrow. */
export const rememberedReading = (memory: Memory, isNarrow: boolean): ReadingWay => {
  const [mode, zoom] = recall(memory, KEY)?.split(' ') ?? [];
  const known = READING_MODES.find((one) => one === mode);
  return known ? { mode: known, zoom: zoomOf(zoom) } : isNarrow ? USUAL_NARROW : USUAL;
};

export const rememberReading = (memory: Memory, { mode, zoom }: ReadingWay): void =>
  keep(memory, KEY, `${mode} ${zoom}`);
