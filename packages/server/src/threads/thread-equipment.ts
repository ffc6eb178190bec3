import { workerData } from 'node:worker_threads';
import { type Equipment, loadEquipment } from '@gaveta/output/equipment';

/** What a thread of the pool is started with. */
export interface ThreadStart {
  /** Addresses of the modules that add to the equipment. */
  modules: readonly string[];
}

/** The equipment of this thread. Whoever awaits it hears of a module that cannot be loaded. */
export const threadEquipment = (): Promise<Equipment> => {
  const { modules } = workerData as ThreadStart;
  const loading = loadEquipment(modules);
  loading.catch(() => {});
  return loading;
};
