import type { CSSProperties, ReactNode, Ref } from 'react';
import type { GavetaElements } from '../define.ts';
import type { GavetaAttributes } from './attributes.ts';

type Props<T> = GavetaAttributes & { ref?: Ref<T>; key?: string | number; style?: CSSProperties; children?: ReactNode };
type Elements = { [K in keyof GavetaElements]: Props<GavetaElements[K]> };

declare module 'react' {
  namespace JSX {
    interface IntrinsicElements extends Elements {}
  }
}
