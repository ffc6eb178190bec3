import { SPOKEN, type Speech } from '../definition/spoken.ts';
import { z } from '../definition/zod.ts';

/** Gives what stands in the place of a part of a definition that readers read; the same value where nothing changes. */
export type Respeak = (value: unknown, as: Speech, path: string) => unknown;

/**
 * Goes through a value along its schema, and has each part that readers read said anew. What does not change is not copied: a value
 * that says nothing is given back as it is.
 */
export const respoken = (schema: z.ZodType, value: unknown, respeak: Respeak, path = ''): unknown => {
  const marked = SPOKEN.get(schema);
  if (marked) return respeak(value, marked.as, path);
  if (value === undefined || value === null) return value;
  const part = (name: string | number): string => (path === '' ? String(name) : `${path}/${name}`);
  if (schema instanceof z.ZodObject) {
    const shape = schema.shape as Record<string, z.ZodType>;
    return changed(value as Record<string, unknown>, (one, name) =>
      shape[name] ? respoken(shape[name], one, respeak, part(name)) : one,
    );
  }
  if (schema instanceof z.ZodRecord) {
    const of = schema.valueType as z.ZodType;
    return changed(value as Record<string, unknown>, (one, name) => respoken(of, one, respeak, part(name)));
  }
  if (schema instanceof z.ZodArray) {
    const of = schema.element as z.ZodType;
    const list = value as unknown[];
    const next = list.map((one, i) => respoken(of, one, respeak, part(i)));
    return next.every((one, i) => one === list[i]) ? value : next;
  }
  if (schema instanceof z.ZodDiscriminatedUnion || schema instanceof z.ZodUnion) {
    const option = optionFor(schema, value);
    return option ? respoken(option, value, respeak, path) : value;
  }
  if (schema instanceof z.ZodOptional || schema instanceof z.ZodDefault || schema instanceof z.ZodNullable)
    return respoken(schema.unwrap() as z.ZodType, value, respeak, path);
  return schema instanceof z.ZodLazy ? respoken(schema.unwrap() as z.ZodType, value, respeak, path) : value;
};

const changed = (
  value: Record<string, unknown>,
  next: (one: unknown, name: string) => unknown,
): Record<string, unknown> => {
  let copy: Record<string, unknown> | null = null;
  for (const [name, one] of Object.entries(value)) {
    const other = next(one, name);
    if (other === one) continue;
    copy ??= { ...value };
    copy[name] = other;
  }
  return copy ?? value;
};

/** Which of several forms a value has: by its kind where they are told apart by one, else the first that takes it. */
const optionFor = (union: z.ZodUnion | z.ZodDiscriminatedUnion, value: unknown): z.ZodType | undefined => {
  const options = union.options as readonly z.ZodType[];
  if (!(union instanceof z.ZodDiscriminatedUnion)) return options.find((option) => option.safeParse(value).success);
  const { discriminator } = union.def;
  const kind = (value as Record<string, unknown>)[discriminator];
  return options.find((option) => {
    const named = (option as z.ZodObject).shape[discriminator];
    return named instanceof z.ZodLiteral && named.values.has(kind as never);
  });
};
