import { z } from 'zod';

/** A switch as an address writes it. */
export const flag = (initially: boolean) =>
  z
    .union([z.boolean(), z.enum(['true', 'false', 'yes', 'no', '1', '0'])])
    .default(initially)
    .transform((given) => given === true || given === 'true' || given === 'yes' || given === '1');

/** Whether columns are called by their captions, or by their names for programs. */
export const columnNames = z.enum(['labels', 'names']);
