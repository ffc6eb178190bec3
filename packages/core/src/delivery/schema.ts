import { formula, identifier } from '../definition/basics.ts';
import { stepsSchema } from '../definition/recipe.ts';
import { z } from '../definition/zod.ts';
import { PERIODS } from './periods.ts';
import { whenSchema } from './when.ts';

const id = z.string().min(1).max(120);
const name = z.string().trim().min(1).max(200);

/** An address that mails go to: one `@`, no spaces, no signs that mean something in a header. */
export const addressSchema = z
  .string()
  .trim()
  .max(254)
  .regex(/^[^\s@<>",;:()[\]\\]+@[^\s@<>",;:()[\]\\]+$/u, 'an address as office@cumeeira.example');

const single = z.union([z.string().max(20_000), z.number(), z.boolean()]);

/** What a parameter of the report gets: a value, what a formula gives on that day, or a stretch of the calendar. */
export const deliveredValueSchema = z.union([
  single,
  z.array(z.union([z.string(), z.number()])).max(1000),
  z.strictObject({ formula }),
  z.strictObject({ period: z.enum(PERIODS) }),
]);
export type DeliveredValue = z.output<typeof deliveredValueSchema>;

/** Rows of which each gets a part of its own. Formulas of values and words read its fields. */
export const eachSchema = z.strictObject({
  steps: stepsSchema,
  /** The field that says who it is for, by the name that the application knows the person under. */
  person: identifier.optional(),
  /** With the rows that the owner of the delivery sees, or with those that the person sees alone. */
  rowsOf: z.enum(['owner', 'person']).default('owner'),
});
export type Each = z.output<typeof eachSchema>;

/** Somebody who gets a mail. */
export const recipientSchema = z.union([
  z.strictObject({ address: addressSchema }),
  /** By the names that the application knows them under. */
  z.strictObject({ user: name }),
  z.strictObject({ group: name }),
  /** The field of the row, which holds one address or several with commas between them. */
  z.strictObject({ field: identifier }),
  /** The person of the row. */
  z.strictObject({ person: z.literal(true) }),
]);
export type Recipient = z.output<typeof recipientSchema>;

/** Words with formulas in braces: `Nights of {region}`. */
const words = (most: number) => z.string().max(most);

/** Somebody who may see a kept result, as grants of the library name them. */
const principal = z
  .string()
  .max(220)
  .regex(/^(?:everybody|(?:user|group):[^\s].*)$/su, '“user:” or “group:” with a name, or “everybody”');

export const targetSchema = z.union([
  z.strictObject({
    kind: z.literal('mail'),
    to: z.array(recipientSchema).min(1).max(200),
    subject: words(500),
    words: words(20_000),
    /** One mail to all of them, who see each other’s addresses; one for each when left out. */
    together: z.boolean().default(false),
  }),
  /** Of the server, by the name under which the application registered it. */
  z.strictObject({ kind: z.literal('folder'), name }),
  /** Of the application, which gets files by a signed request. */
  z.strictObject({ kind: z.literal('address'), name }),
  z.strictObject({
    kind: z.literal('printer'),
    name,
    copies: z.number().int().min(1).max(99).default(1),
    sides: z.enum(['one', 'long-edge', 'short-edge']).default('one'),
  }),
  /** Pages that stay as they are, for the owner and whoever else is named. */
  z.strictObject({ kind: z.literal('kept'), for: z.array(principal).max(100).default([]) }),
]);
export type Target = z.output<typeof targetSchema>;
export type TargetKind = Target['kind'];
export const TARGET_KINDS = ['mail', 'folder', 'address', 'printer', 'kept'] as const satisfies readonly TargetKind[];

/** A report that comes by itself. */
export const deliverySchema = z.strictObject({
  gavetaDelivery: z.literal(1),
  name,
  /** Id of a stored report or sketch. */
  report: id,
  values: z.record(z.string().max(80), deliveredValueSchema).default({}),
  each: eachSchema.optional(),
  /** What it becomes. */
  files: z
    .array(z.strictObject({ output: z.string().max(80), options: z.record(z.string(), z.unknown()).default({}) }))
    .max(10)
    .default([{ output: 'pdf', options: {} }]),
  /** All files in one. */
  zip: z.boolean().default(false),
  /** Pattern of the names of files, with formulas in braces; that of the application when left out. */
  fileName: words(200).optional(),
  /** Nothing goes where the report has no rows. */
  onlyWithRows: z.boolean().default(false),
  when: whenSchema,
  to: z.array(targetSchema).min(1).max(10),
});
export type Delivery = z.output<typeof deliverySchema>;

/** Reads a delivery that somebody sent or stored. */
export const readDelivery = (
  json: unknown,
): { delivery: Delivery; error: null } | { delivery: null; error: z.ZodError } => {
  const read = deliverySchema.safeParse(json);
  return read.success ? { delivery: read.data, error: null } : { delivery: null, error: read.error };
};
