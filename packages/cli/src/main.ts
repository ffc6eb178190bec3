import { Command, CommanderError, Option } from 'commander';
import type { InitOptions } from './init/init.ts';
import type { SyncOptions } from './library/sync.ts';
import type { RenderOptions } from './render.ts';
import type { TestOptions } from './test/test.ts';
import type { TranslationsOptions } from './translations.ts';
import type { TypesOptions } from './types/types.ts';

/** Each command loads what it needs when it is called, so that a word of help does not wait for databases. */
const COMMANDS = {
  render: async () => (await import('./render.ts')).render,
  formats: async () => (await import('./formats.ts')).printFormats,
  check: async () => (await import('./check.ts')).check,
  translations: async () => (await import('./translations.ts')).translations,
  doctor: async () => (await import('./doctor.ts')).doctor,
  models: async () => (await import('./model.ts')).printModels,
  init: async () => (await import('./init/init.ts')).init,
  test: async () => (await import('./test/test.ts')).test,
  types: async () => (await import('./types/types.ts')).types,
  pull: async () => (await import('./library/sync.ts')).pull,
  push: async () => (await import('./library/sync.ts')).push,
  diff: async () => (await import('./library/sync.ts')).diff,
};

/** As they come from the command line. */
type Given<T extends { format: unknown; config?: unknown }> = Omit<T, 'format' | 'config'> & Partial<Pick<T, 'format'>>;

/** Exit codes: 0 fine; 1 the report has errors; 2 the call is wrong; 3 the run failed. */
export const main = async (argv: readonly string[]): Promise<number> => {
  let code = 0;
  const program = new Command('gaveta').description('Runs and checks reports from the command line.').exitOverride();
  program.configureHelp({ showGlobalOptions: true });
  program.option('--config <file>', 'configuration; left out: gaveta.config.ts in this folder');
  program
    .command('init [folder]')
    .description('Begins an application that shows and designs reports, or adds them to one of your own.')
    .option(
      '--template <name>',
      'page: a plain page; react: React and Vite; express: for an Express application',
      'page',
    )
    .option('--database <address>', 'PostgreSQL database whose tables reports show; left out: made-up rows')
    .action(async (folder: string | undefined, options: InitOptions) => {
      const init = await COMMANDS.init();
      code = await init(folder ?? '.', options);
    });
  program
    .command('render <reports...>')
    .description(
      'Runs a report, given by its id, its name or a definition file, and writes it to a file; several are joined.',
    )
    .option('--param <name=value...>', 'a parameter’s value; may be given several times', collect, [])
    .option(
      '--format <format...>',
      'format of the file; “gaveta formats” lists them; several become a zip (default: pdf)',
    )
    .option(
      '--option <name=value...>',
      'an option of the format (of several: format.name=value); may be given several times',
      collect,
      [],
    )
    .option('--title <words>', 'title of a file in which reports are joined; left out: their names')
    .option('--language <tag>', 'language of the reader, as pt-PT; left out: that of the report')
    .addOption(
      new Option('--folds <state>', 'what can be opened and closed: as it starts, all open, or all closed')
        .choices(['start', 'open', 'closed'])
        .default('start'),
    )
    .option('--out <file>', 'file to write; left out: the report’s name')
    .option('--profile', 'say what the run did, and where its time went', false)
    .action(async (reports: string[], { format = ['pdf'], ...options }: Given<RenderOptions>) => {
      const render = await COMMANDS.render();
      code = await render(reports, { ...options, format, ...program.opts<{ config?: string }>() });
    });
  program
    .command('formats')
    .description('Lists the formats that a report can be written in, with their options.')
    .action(async () => {
      const printFormats = await COMMANDS.formats();
      await printFormats();
    });
  program
    .command('check <file>')
    .description('Checks a definition file and prints each problem with its place.')
    .option('--upgrade', 'write the file anew in the form of this version, where it has an older one', false)
    .action(async (file: string, options: { upgrade: boolean }) => {
      const check = await COMMANDS.check();
      code = await check(file, { ...options, ...program.opts<{ config?: string }>() });
    });
  program
    .command('translations <file>')
    .description(
      'Says what of a definition file is not translated; writes it for whoever translates, or takes that back.',
    )
    .requiredOption('--language <tag>', 'the language that it is translated into, as pt-PT')
    .option('--out <file>', 'file to write: .xlf for XLIFF, else CSV')
    .option('--take <file>', 'file to take translations from, into the definition')
    .action(async (file: string, options: TranslationsOptions) => {
      const translations = await COMMANDS.translations();
      code = await translations(file, { ...options, ...program.opts<{ config?: string }>() });
    });
  program
    .command('doctor')
    .description('Holds the models against their databases: connections, tables, columns, types, roles and scopes.')
    .action(async () => {
      const doctor = await COMMANDS.doctor();
      code = await doctor(program.opts<{ config?: string }>());
    });
  program
    .command('test [folder]')
    .description(
      'Runs the reports of a folder’s “.case.json” files and compares them with what was accepted (default folder: report-tests).',
    )
    .option('--accept', 'keep their pages and totals as they are now', false)
    .option('--only <word...>', 'only those with one of these in their path', [])
    .option('--html <file>', 'file that shows the pages that differ; left out: differences.html in the folder')
    .action(async (folder: string | undefined, options: Omit<TestOptions, 'config'>) => {
      const test = await COMMANDS.test();
      code = await test(folder ?? 'report-tests', { ...options, ...program.opts<{ config?: string }>() });
    });
  program
    .command('types')
    .description('Writes TypeScript types of the data models, and of the reports’ parameters.')
    .option('--server <address>', 'a running Gaveta, as http://localhost:3000/reports/; left out: the configuration’s')
    .option('--token <token>', 'for the server; left out: the variable GAVETA_TOKEN')
    .option('--out <file>', 'file to write', 'gaveta-types.ts')
    .action(async (options: Omit<TypesOptions, 'config'>) => {
      const types = await COMMANDS.types();
      code = await types({ ...options, ...program.opts<{ config?: string }>() });
    });
  const syncing = (name: 'pull' | 'push' | 'diff', words: string): Command => {
    const command = program
      .command(`${name} [folder]`)
      .description(words)
      .option(
        '--server <address>',
        'a running Gaveta, as http://localhost:3000/reports/; left out: that of the last time',
      )
      .option('--token <token>', 'for the server; left out: the variable GAVETA_TOKEN')
      .option('--library <id>', 'folder of the library; left out: that of the last time, or the library itself')
      .action(async (folder: string | undefined, options: SyncOptions) => {
        const sync = await COMMANDS[name]();
        code = await sync(folder ?? 'library', options);
      });
    if (name === 'diff') return command;
    return command.option('--yes', 'do what is shown', false).option('--force', 'also where both sides changed', false);
  };
  syncing(
    'pull',
    'Shows, and with --yes writes, what a folder of the library has that the files here (default: library) have not.',
  );
  syncing(
    'push',
    'Shows, and with --yes sends, what the files here (default: library) would change in a folder of the library.',
  );
  syncing(
    'diff',
    'Says what differs between the files here (default: library) and a folder of the library, and on which side.',
  );
  program
    .command('model')
    .description('Works with the data models of the configuration.')
    .command('print [name]')
    .description('Prints a model, or all of them: entities, fields, relations, and what stands behind them.')
    .action(async (name: string | undefined) => {
      const printModels = await COMMANDS.models();
      code = await printModels(name, program.opts<{ config?: string }>());
    });
  try {
    await program.parseAsync([...argv]);
    return code;
  } catch (error) {
    if (error instanceof CommanderError) return error.exitCode === 0 ? 0 : 2;
    console.error(`gaveta: ${error instanceof Error ? error.message : String(error)}`);
    return 3;
  }
};

const collect = (value: string, before: string[] = []): string[] => [...before, value];
