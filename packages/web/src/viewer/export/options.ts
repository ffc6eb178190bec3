import type { OutputFacts } from '../../api/client.ts';
import type { Memory } from '../../ui/memory.ts';

/** Options of an output as the address of its file has them. */
export type OptionValues = Readonly<Record<string, string>>;

/** A box for one option of an output. */
export type OptionBox = { name: string; help: string; initial: string } & (
  | { kind: 'choice'; values: string[] }
  | { kind: 'number'; least: number | null; most: number | null }
  | { kind: 'switch' }
  | { kind: 'text' }
);

interface OptionSchema {
  type?: string;
  enum?: unknown[];
  anyOf?: OptionSchema[];
  default?: unknown;
  minimum?: number;
  maximum?: number;
  description?: string;
}

/** Largest number that JSON Schema gives for whole numbers without an end of their own. */
const NO_END = Number.MAX_SAFE_INTEGER;

const boxOf = (name: string, schema: OptionSchema): OptionBox => {
  const { anyOf, description: help = '', default: given } = schema;
  const initial = given === undefined ? '' : String(given);
  const one = anyOf?.find((part) => part.type === 'boolean') ?? anyOf?.find((part) => part.enum) ?? schema;
  if (one.type === 'boolean') return { kind: 'switch', name, help, initial: initial === 'true' ? 'true' : 'false' };
  if (one.enum) return { kind: 'choice', name, help, initial, values: one.enum.map(String) };
  if (one.type === 'integer' || one.type === 'number') {
    const { minimum: least = null, maximum } = one;
    return {
      kind: 'number',
      name,
      help,
      initial,
      least,
      most: maximum === undefined || maximum >= NO_END ? null : maximum,
    };
  }
  return { kind: 'text', name, help, initial };
};

/** The boxes for the options of an output, from their JSON Schema. */
export const optionBoxes = ({ options }: OutputFacts): OptionBox[] =>
  Object.entries((options.properties ?? {}) as Record<string, OptionSchema>).map(([name, schema]) =>
    boxOf(name, schema),
  );

/** What differs from what is taken where nothing is said. */
export const askedOptions = (boxes: readonly OptionBox[], values: OptionValues): OptionValues =>
  Object.fromEntries(
    boxes.flatMap(({ name, initial }) => {
      const value = values[name] ?? initial;
      return value !== '' && value !== initial ? [[name, value]] : [];
    }),
  );

const NAME = 'gaveta.export-name';
const SEVERAL = 'gaveta.export-several';
const LAST = 'gaveta.export';
const keyOf = (output: string): string => `${LAST}.${output}`;

/** The output that was taken last, and the options that were taken with one; page numbers are those of one report, passwords of one file. */
export const rememberedOutput = (memory: Memory): string | null => {
  try {
    return memory.getItem(LAST);
  } catch {
    return null;
  }
};

export const rememberedOptions = (memory: Memory, output: string): OptionValues => {
  try {
    const read: unknown = JSON.parse(memory.getItem(keyOf(output)) ?? '{}');
    return typeof read === 'object' && read !== null
      ? Object.fromEntries(
          Object.entries(read).flatMap(([name, value]) => (typeof value === 'string' ? [[name, value]] : [])),
        )
      : {};
  } catch {
    return {};
  }
};

export const rememberExport = (memory: Memory, output: string, values: OptionValues): void => {
  const { from: _, to: __, password: ___, ownerPassword: ____, ...kept } = values;
  try {
    memory.setItem(LAST, output);
    memory.setItem(keyOf(output), JSON.stringify(kept));
  } catch {
    // A full store costs a convenience and nothing else.
  }
};

const read = (memory: Memory, key: string): string => {
  try {
    return memory.getItem(key) ?? '';
  } catch {
    return '';
  }
};

/** The pattern of names that was given last; empty where none was. */
export const rememberedName = (memory: Memory): string => read(memory, NAME);

/** Names of the outputs that were taken together last; none where one was. */
export const rememberedSeveral = (memory: Memory): string[] => read(memory, SEVERAL).split(' ').filter(Boolean);

export const rememberNaming = (memory: Memory, name: string, several: readonly string[]): void => {
  try {
    memory.setItem(NAME, name);
    memory.setItem(SEVERAL, several.join(' '));
  } catch {
    // A full store costs a convenience and nothing else.
  }
};

/** Where a pattern of names has a part that is not there, the part; null where it has none. */
export const unknownPart = (pattern: string, parts: readonly string[]): string | null =>
  [...pattern.matchAll(/\{([^{}]*)\}/g)].map(([, part]) => part!).find((part) => !parts.includes(part)) ?? null;
