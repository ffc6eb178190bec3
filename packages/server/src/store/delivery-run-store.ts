import { createDeliveryHistory, type DeliveryHistory } from './delivery-history.ts';
import { createDeliveryWork, type DeliveryWork } from './delivery-work.ts';
import type { StoreDatabase } from './opened-database.ts';

/** Runs of deliveries: what waits, and what became of it. */
export type DeliveryRunStore = DeliveryHistory & DeliveryWork;

export const createDeliveryRunStore = (db: StoreDatabase): DeliveryRunStore => ({
  ...createDeliveryHistory(db),
  ...createDeliveryWork(db),
});
