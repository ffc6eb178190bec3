import type { FrameEvents } from '@gaveta/core/embedding';
import type {} from 'vue';
import type { GavetaElements } from '../define.ts';
import type { GavetaAttributes } from './attributes.ts';

type Listeners = {
  [K in keyof FrameEvents as `on${Capitalize<Camel<K>>}`]?: (event: CustomEvent<FrameEvents[K]>) => void;
};
type Camel<K extends string> = K extends `${infer A}-${infer B}` ? `${A}${Capitalize<Camel<B>>}` : K;
type Component<T> = new () => { $props: GavetaAttributes & Listeners & { style?: unknown; ref?: unknown }; $el: T };
type Components = { [K in keyof GavetaElements]: Component<GavetaElements[K]> };

declare module 'vue' {
  interface GlobalComponents extends Components {}
}
