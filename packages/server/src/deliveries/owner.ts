import type { Report } from '@gaveta/core/internal';
import { ApiError } from '../base/api-error.ts';
import { Caller } from '../services/call.ts';
import type { Gate } from '../services/gate.ts';
import type { StoredDelivery } from '../store/delivery-store.ts';
import type { People } from './options.ts';
import { stopsDelivery } from './outcome.ts';

/** Whoever a delivery runs as, as they were when they saved it. */
export const callerOf = ({ owner, groups, rights, claims, hostParameters }: StoredDelivery): Caller =>
  new Caller({ user: owner, groups, rights, claims, parameters: hostParameters });

/**
 * Whoever a delivery runs as, with its report as they may run it. Throws NotDelivered, so that the delivery stops, where they may not
 * any more, or it is not there.
 */
export const ownerOf = async (
  delivery: StoredDelivery,
  gate: Gate,
  people: People | null,
): Promise<{ caller: Caller; report: Report }> => {
  const { owner, report } = delivery;
  if (people) {
    const person = await people.person(owner);
    const mayDeliver = person !== null && (person.session?.rights.includes('deliver') ?? true);
    if (!mayDeliver) throw stopsDelivery('delivery-owner-gone', { name: owner });
  }
  const caller = callerOf(delivery);
  try {
    return { caller, report: (await gate.stored(caller, 'run', report, 'published')).report };
  } catch (error) {
    if (error instanceof ApiError && error.code === 'not-allowed-here')
      throw stopsDelivery('delivery-right-gone', { name: owner });
    // Who may not see it any more is told no more than that.
    if (error instanceof ApiError && error.code === 'unknown-report') throw stopsDelivery('delivery-report-gone');
    throw error;
  }
};
