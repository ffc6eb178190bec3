import { readFile } from 'node:fs/promises';
import { FontBook, type FontFile, type FunctionTable } from '@gaveta/core/internal';
import { type FontFace, shippedFonts } from './fonts/shipped.ts';
import type { Output } from './output.ts';
import { OUTPUTS } from './outputs.ts';

/** What a module adds, as its default export. */
export interface Addition {
  /** By their names, in capital letters. */
  functions?: FunctionTable;
  fonts?: readonly FontFace[];
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
  ) {
    const twice = [...fonts.map(({ file }) => file), ...outputs.map(({ name }) => name)].find(
      (name, place, all) => all.indexOf(name) !== place,
    );
    if (twice !== undefined) throw new Error(`Two modules add the font or output “${twice}”.`);
  }

  /** Null when there is no output of the name. */
  output(name: string): Output | null {
    return this.outputs.find((output) => output.name === name) ?? null;
  }

  /** The fonts, read once. */
  book(): Promise<FontBook> {
    this.loaded ??= Promise.all(
      this.fonts.map(async ({ family, weight, italic, path }): Promise<FontFile> => {
        return { family, weight, italic, data: new Uint8Array(await readFile(path)) };
      }),
    ).then((files) => new FontBook(files));
    return this.loaded;
  }
}

/**
 * What ships with Gaveta, and what modules add. Threads load it for themselves, so that modules go by their addresses
 * (`file:///…`). Rejects when a module cannot be loaded, or adds what is there already.
 */
export const loadEquipment = async (modules: readonly string[] = []): Promise<Equipment> => {
  const additions = await Promise.all(
    modules.map(async (address) => ((await import(address)) as { default: Addition }).default),
  );
  return new Equipment(
    [...shippedFonts(), ...additions.flatMap(({ fonts = [] }) => fonts)],
    [...OUTPUTS, ...additions.flatMap(({ outputs = [] }) => outputs)],
    Object.assign({}, ...additions.map(({ functions = {} }) => functions)),
  );
};

/** The fonts that ship with Gaveta. */
export const loadShippedFonts = async (): Promise<FontBook> => (await loadEquipment()).book();
