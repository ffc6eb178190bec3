import type {} from 'solid-js';
import type { GavetaElements } from '../define.ts';
import type { GavetaAttributes } from './attributes.ts';

type Props<T> = GavetaAttributes & {
  ref?: T | ((element: T) => void);
  style?: string | Record<string, string>;
  children?: unknown;
};
type Elements = { [K in keyof GavetaElements]: Props<GavetaElements[K]> };

declare module 'solid-js' {
  namespace JSX {
    interface IntrinsicElements extends Elements {}
  }
}
