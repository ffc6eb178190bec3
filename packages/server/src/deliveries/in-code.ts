import { randomUUID } from 'node:crypto';
import type { Deliveries } from './deliveries.ts';

/** Reports that come by themselves, for code of the host's own. */
export interface DeliveriesInCode {
  /**
   * Tells of an event: deliveries that wait for one of the name go. With a key they go once for it, however often it is told. Gives how
   * many went.
   */
  event(name: string, options?: { key?: string }): Promise<number>;
}

export const deliveriesInCode = (deliveries: Deliveries): DeliveriesInCode => ({
  event: (name, { key = randomUUID() } = {}) => deliveries.event(name, key),
});
