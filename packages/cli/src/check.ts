import { readFile, rename, writeFile } from 'node:fs/promises';
import { planReport, readDefinitionText, upgradeDefinition } from '@gaveta/core/internal';
import { loadConfig } from './config.ts';
import { printProblems, readDefinitions } from './definitions.ts';

export const check = async (file: string, options: { config?: string; upgrade: boolean }): Promise<number> => {
  let text: string;
  try {
    text = await readFile(file, 'utf8');
  } catch (error) {
    console.error(`gaveta: ${file} cannot be read: ${error instanceof Error ? error.message : String(error)}`);
    return 2;
  }
  const read = readDefinitionText(text);
  if (!read.ok) {
    printProblems(read.problems);
    return 1;
  }
  if (options.upgrade && !(await upgraded(file, text))) return 2;
  const config = await loadConfig(options.config);
  if (!config)
    console.error(
      'gaveta: no gaveta.config.ts here, so fields and subreports were not checked. Name one with --config.',
    );
  const { problems } = config ? planReport(read.report, (await readDefinitions(config)).context) : { problems: [] };
  printProblems(problems);
  const wrong = problems.filter((p) => p.severity === 'error').length;
  if (wrong > 0) return 1;
  console.log(
    `${file}: ${problems.length === 0 ? 'no problems' : problems.length === 1 ? '1 problem' : `${problems.length} problems`}`,
  );
  return 0;
};

/** Writes a file of an older version anew; false, with words, where it cannot be written. */
const upgraded = async (file: string, text: string): Promise<boolean> => {
  const { definition, from, to } = upgradeDefinition(JSON.parse(text) as Record<string, unknown>);
  if (from === to) {
    console.log(`${file}: version ${to} already, left as it is`);
    return true;
  }
  try {
    // Written beside and renamed, so that a write that is cut short leaves the old file.
    await writeFile(`${file}.new`, `${JSON.stringify(definition, null, 2)}\n`);
    await rename(`${file}.new`, file);
  } catch (error) {
    console.error(`gaveta: ${file} cannot be written: ${error instanceof Error ? error.message : String(error)}`);
    return false;
  }
  console.log(`${file}: upgraded from version ${from} to ${to}`);
  return true;
};
