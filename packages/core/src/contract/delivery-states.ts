/** `stopped`: by Gaveta, since it cannot go any more. */
export const DELIVERY_STATES = ['on', 'paused', 'stopped'] as const;
export type DeliveryState = (typeof DELIVERY_STATES)[number];

/** Why a delivery went. */
export const RUN_REASONS = ['calendar', 'by-hand', 'event', 'rows'] as const;
export type RunReason = (typeof RUN_REASONS)[number];

/** `partly`: some of it arrived; `nothing`: there were no rows to send. */
export const RUN_STATES = ['waiting', 'working', 'done', 'partly', 'failed', 'nothing', 'cancelled'] as const;
export type DeliveryRunState = (typeof RUN_STATES)[number];

/** Of what is made for a run, and of each place where it goes. */
export const PART_STATES = ['waiting', 'working', 'done', 'failed', 'nothing', 'cancelled'] as const;
export type PartState = (typeof PART_STATES)[number];
