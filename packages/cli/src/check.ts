import { readFile } from 'node:fs/promises';
import { planReport, readDefinitionText } from '@gaveta/core/internal';
import { loadConfig } from './config.ts';
import { printProblems, readDefinitions } from './definitions.ts';

export const check = async (file: string, options: { config?: string }): Promise<number> => {
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
