import { createHash } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import { fileURLToPath } from 'node:url';
import { describedFunctions, type HostFunction } from '@gaveta/core/internal';
import type { Equipment } from '@gaveta/output';

/** Functions that the host added, and the modules that browsers load for them by the names of their files. */
export interface FunctionModules {
  functions: readonly HostFunction[];
  texts: ReadonlyMap<string, string>;
}

/**
 * Reads the modules that work in browsers too. Their names are made from their content, so that browsers keep them for good.
 * Rejects when one of them is no file, or imports something: a browser could not load that.
 */
export const readFunctionModules = async ({ functions, inBrowsers }: Equipment): Promise<FunctionModules> => {
  const texts = new Map<string, string>();
  const homes = new Map<string, string>();
  for (const [address, names] of inBrowsers) {
    const text = await moduleText(address);
    const file = `${createHash('sha256').update(text).digest('hex')}.mjs`;
    texts.set(file, text);
    for (const name of names) homes.set(name, `functions/${file}`);
  }
  const described = describedFunctions(functions).map((one) => ({ ...one, module: homes.get(one.name) ?? null }));
  return { functions: described, texts };
};

const moduleText = async (address: string): Promise<string> => {
  if (!address.startsWith('file:'))
    throw new Error(`The module ${address} is for browsers as well: name it by the address of its file, as file:///….`);
  const text = await readFile(fileURLToPath(address), 'utf8');
  // Loaded by those alone who have such a module.
  const { init, parse } = await import('es-module-lexer');
  await init;
  const [imports] = parse(text);
  const other = imports.find(({ d }) => d !== IMPORT_META);
  if (other)
    throw new Error(
      `The module ${address} is for browsers as well, and imports ${other.n ?? 'another'}. Bundle it into one file, or leave inBrowsers out.`,
    );
  return text;
};

/** What the lexer gives as the kind of `import.meta`, which loads nothing. */
const IMPORT_META = -2;
