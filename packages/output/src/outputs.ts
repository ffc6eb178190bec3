import type { Output } from './output.ts';
import { pdfOutput } from './pdf/output.ts';

/** Every file that a report can become. The API's route, the command line, the client and menus are made from this list. */
export const OUTPUTS: readonly Output[] = [pdfOutput];

/** Null when there is no output of the name. */
export const outputNamed = (name: string): Output | null => OUTPUTS.find((output) => output.name === name) ?? null;
