import type { FrameEvents } from '@gaveta/core/embedding';
import type {} from 'svelte/elements';
import type { GavetaElements } from '../define.ts';
import type { GavetaAttributes } from './attributes.ts';

type Listeners = { [K in keyof FrameEvents as `on${K}`]?: ((event: CustomEvent<FrameEvents[K]>) => void) | null };
type Props = GavetaAttributes & Listeners & { style?: string; children?: unknown };
type Elements = { [K in keyof GavetaElements]: Props };

declare module 'svelte/elements' {
  interface SvelteHTMLElements extends Elements {}
}
