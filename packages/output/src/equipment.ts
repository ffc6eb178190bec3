import { readFile } from 'node:fs/promises';
import {
  type AddedFunctions,
  addedFunctions,
  FontBook,
  type FontFile,
  type FunctionTable,
  functionNames,
} from '@gaveta/core/internal';
import { type FontFace, shippedFonts } from './fonts/shipped.ts';
import type { Output } from './output.ts';
import { OUTPUTS } from './outputs.ts';

/** What a module adds, as its default export. */
export interface Addition {
  /** Functions of formulas, by their names in capital letters. */
  functions?: AddedFunctions;
  /**
   * Whether its functions work in browsers too, for the live page. The module is then one file that imports nothing and adds
   * functions alone, and everybody who can reach the server can read it.
   */
  inBrowsers?: boolean;
  /** Fonts, by their files. */
  fonts?: readonly FontFace[];
  /** Files that reports can become. */
  outputs?: readonly Output[];
}

/** What reports are made with: fonts to measure and show them in, outputs that they become, and functions of their formulas. */
export class Equipment {
  private loaded: Promise<FontBook> | null = null;

  /** The family of the first font is the default; those after it also serve as fallbacks, in their order. */
  constructor(
    readonly fonts: readonly FontFace[],
    readonly outputs: readonly Output[],
    /** Besides Gaveta’s own. */
    readonly functions: FunctionTable = {},
    /** Addresses of the modules whose functions work in browsers too, with the names of their functions. */
    readonly inBrowsers: ReadonlyMap<string, readonly string[]> = new Map(),
  ) {}

  /** Null when there is no output of the name. */
  output(name: string): Output | null {
    return this.outputs.find((output) => output.name === name) ?? null;
  }

  /** The same with these outputs alone, in this order; with all of them where none are named. Throws when there is no such output. */
  offering(names: readonly string[] | undefined): Equipment {
    if (!names) return this;
    const offered = names.map((name) => {
      const output = this.output(name);
      if (output) return output;
      throw new Error(`There is no output “${name}”. There is: ${this.outputs.map((one) => one.name).join(', ')}.`);
    });
    return new Equipment(this.fonts, offered, this.functions, this.inBrowsers);
  }

  /** The fonts, read once. */
  book(): Promise<FontBook> {
    this.loaded ??= Promise.all(
      this.fonts.map(async ({ family, weight, italic, path }): Promise<FontFile> => {
        return { family, weight, italic, data: new Uint8Array(await readFile(path)) };
      }),
    ).then((files) => FontBook.of(files));
    return this.loaded;
  }
}

/**
 * What ships with Gaveta, and what modules add. Threads load it for themselves, so that modules go by their addresses
 * (`file:///…`). Rejects when a module cannot be loaded, or adds what is there already.
 */
export const loadEquipment = async (modules: readonly string[] = []): Promise<Equipment> => {
  const additions = await Promise.all(modules.map(additionOf));
  const fonts = [...shippedFonts(), ...additions.flatMap((added) => added.fonts ?? [])];
  const outputs = [...OUTPUTS, ...additions.flatMap((added) => added.outputs ?? [])];
  const functions = additions.flatMap((added) => Object.entries(addedFunctions(added.functions ?? {})));
  onlyOnce(
    'font file',
    fonts.map(({ file }) => file),
  );
  onlyOnce(
    'output',
    outputs.map(({ name }) => name),
  );
  onlyOnce('function', [...functionNames(), ...functions.map(([name]) => name)]);
  const inBrowsers = modules.flatMap((address, i): [string, string[]][] => {
    const { inBrowsers = false, functions = {}, fonts = [], outputs = [] } = additions[i]!;
    if (!inBrowsers) return [];
    if (fonts.length + outputs.length > 0)
      throw new Error(`The module ${address} is for browsers as well: put its fonts and outputs into another module.`);
    return [[address, Object.keys(functions)]];
  });
  return new Equipment(fonts, outputs, Object.fromEntries(functions), new Map(inBrowsers));
};

const additionOf = async (address: string): Promise<Addition> => {
  const { default: added } = (await import(address)) as { default?: Addition };
  if (typeof added !== 'object' || added === null)
    throw new Error(
      `The module ${address} exports nothing by default. Export an object with fonts, outputs or functions.`,
    );
  return added;
};

const onlyOnce = (kind: string, names: readonly string[]): void => {
  const twice = names.find((name, place) => names.indexOf(name) !== place);
  if (twice !== undefined) throw new Error(`There is a second ${kind} “${twice}”. Give one of them another name.`);
};

/** The fonts that ship with Gaveta. */
export const loadShippedFonts = async (): Promise<FontBook> => (await loadEquipment()).book();
