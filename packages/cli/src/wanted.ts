import type { Equipment, Output } from '@gaveta/output';

/** A file that is wanted of a report. */
export interface WantedFile {
  output: Output;
  options: Record<string, string>;
}

/** Values by name; null, with the reason printed, when a pair has no name. */
export const pairsOf = (pairs: readonly string[], flag: string): Record<string, string> | null => {
  const values: Record<string, string> = {};
  for (const pair of pairs) {
    const at = pair.indexOf('=');
    if (at < 1) {
      console.error(`gaveta: ${flag} takes name=value, not “${pair}”.`);
      return null;
    }
    values[pair.slice(0, at)] = pair.slice(at + 1);
  }
  return values;
};

/** The files of these formats with their options; null, with the reason printed, when they cannot be. */
export const wantedFiles = (
  { outputs }: Equipment,
  formats: readonly string[],
  pairs: readonly string[],
): WantedFile[] | null => {
  const options = pairsOf(pairs, '--option');
  if (!options) return null;
  const names = [...new Set(formats)];
  const wanted: WantedFile[] = [];
  for (const name of names) {
    const output = outputs.find((one) => one.name === name);
    if (output) {
      wanted.push({ output, options: {} });
      continue;
    }
    console.error(`gaveta: the format “${name}” is not known. There is: ${outputs.map((one) => one.name).join(', ')}.`);
    return null;
  }
  for (const [key, value] of Object.entries(options)) {
    const [format, option] = key.includes('.') ? (key.split(/\.(.*)/s) as [string, string]) : [null, key];
    const taking = wanted.find(({ output }) => (format === null ? names.length === 1 : output.name === format));
    if (taking) {
      taking.options[option] = value;
      continue;
    }
    console.error(
      format === null
        ? `gaveta: say which format “--option ${key}” is for, as --option ${names[0]}.${key}=${value}`
        : `gaveta: --option ${key}: “${format}” is not among the formats ${names.join(', ')}.`,
    );
    return null;
  }
  for (const { output, options: given } of wanted) {
    const fits = output.options.safeParse(given);
    if (fits.success) continue;
    for (const { path, message } of fits.error.issues)
      console.error(`gaveta: --option ${path.join('.')}${path.length > 0 ? ': ' : ''}${message}`);
    return null;
  }
  return wanted;
};
