import type { Target, TargetKind } from '@gaveta/core/internal';
import type { DeliveryFile, StoredPart } from '../../store/delivery-records.ts';

/** Something on its way to one place. */
export interface Sending<K extends TargetKind = TargetKind> {
  part: StoredPart;
  target: Extract<Target, { kind: K }>;
  files: readonly DeliveryFile[];
  /** Name of the delivery, and of who it runs as. */
  name: string;
  owner: string;
}

/** A way to send files. It may be asked again for what it sent already, and sees to it that it arrives once. */
export interface Channel<K extends TargetKind = TargetKind> {
  /** What it is asked to send again changes nothing, so that what arrived may be noted a moment later. */
  readonly mayRepeat?: boolean;
  /** Gives what the receiver answered, or where it went. Throws NotDelivered. */
  send(sending: Sending<K>, signal: AbortSignal): Promise<string>;
  close?(): void;
}

export type Channels = { readonly [K in TargetKind]: Channel<K> };
