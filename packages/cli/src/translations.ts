import { readFile, writeFile } from 'node:fs/promises';
import {
  isLanguage,
  isXliffFile,
  type Model,
  missingIn,
  type Report,
  readTranslations,
  rowsToTranslate,
  takeTranslations,
  textsOf,
  translationOf,
  translationsAsCsv,
  translationsAsXliff,
} from '@gaveta/core/internal';
import { loadConfig, modelsOf } from './config.ts';
import { readFileDefinition } from './definitions.ts';

export interface TranslationsOptions {
  language: string;
  /** File to write for whoever translates. */
  out?: string;
  /** File to read what they wrote from. */
  take?: string;
  config?: string;
}

/** Writes what a definition says for somebody who translates it, or takes what they wrote into it; gives the exit code. */
export const translations = async (
  file: string,
  { language, out, take, config }: TranslationsOptions,
): Promise<number> => {
  const report = await readFileDefinition(file);
  if (!report) return 2;
  if (!isLanguage(language) || language === report.language) {
    console.error(`gaveta: --language names a language besides that of the report (${report.language}), as pt-PT.`);
    return 2;
  }
  const models = await labels(config);
  const translated = take === undefined ? report : await taking(report, language, take);
  if (!translated) return 2;
  if (take !== undefined) await writeFile(file, `${JSON.stringify(translated, null, 2)}\n`);
  if (out !== undefined) {
    const rows = rowsToTranslate(translated, language, models);
    const written = isXliffFile(out)
      ? translationsAsXliff(rows, { from: report.language, to: language })
      : await translationsAsCsv(rows);
    await writeFile(out, written);
    console.log(`${out}: ${rows.length} texts`);
  }
  const missing = missingIn(translated, language, models);
  console.log(`${file}: ${missing.length} of ${textsOf(translated).length} texts are not translated into ${language}.`);
  for (const { text } of missing.slice(0, 20)) console.log(`  ${text}`);
  if (missing.length > 20) console.log(`  … and ${missing.length - 20} more`);
  return missing.length > 0 ? 1 : 0;
};

/** Labels of models are said as the models say them, where there is a configuration that knows them. */
const labels = async (file: string | undefined): Promise<readonly Model[]> => {
  const config = await loadConfig(file);
  if (!config) return [];
  try {
    return (await modelsOf(config)).map(({ model }) => model);
  } finally {
    await config.close();
  }
};

/** The report with what a file says; null, with the reason printed, where it is none. */
const taking = async (report: Report, language: string, file: string): Promise<Report | null> => {
  const source = await readFile(file, 'utf8').catch((error: Error) => {
    console.error(`gaveta: ${file} cannot be read: ${error.message}`);
    return null;
  });
  if (source === null) return null;
  const read = await readTranslations(file, source, language);
  if ('refused' in read) {
    const why =
      read.refused === 'language'
        ? `translates into ${read.language}, not into ${language}`
        : read.refused === 'xliff'
          ? 'is no XLIFF document'
          : 'has no columns “text” and “translation” in its first line';
    console.error(`gaveta: ${file} ${why}.`);
    return null;
  }
  const before = translationOf(report, language);
  const { texts, changed, unknown, uneven } = takeTranslations(before?.texts ?? {}, read.rows, textsOf(report));
  console.log(`${file}: ${changed} translations are new or changed.`);
  for (const text of unknown) console.log(`  The report does not say “${text}” (any more).`);
  for (const text of uneven) console.log(`  The translation of “${text}” names other numbers in braces.`);
  const others = (report.translations ?? []).filter((one) => one !== before);
  return { ...report, translations: [...others, { ...before, language, texts }] };
};
