import { constants, setPriority } from 'node:os';

/** Lets those who wait for a short answer go before this thread. On Linux alone a priority belongs to a thread. */
export const giveWay = (): void => {
  if (process.platform === 'linux') setPriority(constants.priority.PRIORITY_BELOW_NORMAL);
};
