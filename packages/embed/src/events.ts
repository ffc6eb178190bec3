import type { FrameEvents } from '@gaveta/core/embedding';

/** Events of the elements; `detail` carries what happened. They bubble. */
export type GavetaEvents = { [K in keyof FrameEvents]: CustomEvent<FrameEvents[K]> };

/** An element whose listeners know the details of its events. */
export interface GavetaTarget {
  addEventListener<K extends keyof GavetaEvents>(
    type: K,
    listener: (event: GavetaEvents[K]) => void,
    options?: boolean | AddEventListenerOptions,
  ): void;
  addEventListener(
    type: string,
    listener: EventListenerOrEventListenerObject,
    options?: boolean | AddEventListenerOptions,
  ): void;
}

/** What a method of an element was refused with. */
export class GavetaFailure extends Error {
  constructor(
    /** A code of docs/errors.md, or one of the element’s. */
    readonly code: string,
    detail: string,
  ) {
    super(detail);
    this.name = 'GavetaFailure';
  }
}
