import { readdirSync, readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import {
  checkFormula,
  completionsFor,
  constantScope,
  PHRASES,
  type PhraseCode,
  type Problem,
  phrase,
  problem,
  readDefinition,
} from '@gaveta/core/internal';
import i18next from 'i18next';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { PROBLEM_WORDS } from '../../../core/src/problems/words.ts';
import en from './en.json';
import pt from './pt-PT.json';
import ptWords from './pt-PT.words.json';
import { errorWords, functionWords, hostEngineWords, problemWords, saidWords, takeEngineWords } from './words.ts';

const folder = fileURLToPath(new URL('..', import.meta.url));
const sources = (readdirSync(folder, { recursive: true }) as string[]).filter(
  (f) => /\.tsx?$/.test(f) && !/\.test\./.test(f),
);

type Tree = { [key: string]: string | Tree };

const flat = (tree: Tree, path = ''): [string, string][] =>
  Object.entries(tree).flatMap(([key, value]) =>
    typeof value === 'string' ? [[path + key, value] as [string, string]] : flat(value, `${path}${key}.`),
  );
const texts = { en: new Map(flat(en)), pt: new Map(flat(pt)) };
/** Words of a text, its gaps aside. */
const words = (text: string): number => text.replace(/\{\{.*?\}\}/g, '').match(/\p{L}{2,}/gu)?.length ?? 0;
const gaps = (text: string): string[] => [...text.matchAll(/\{\{?[^}]+\}\}?/g)].map(([gap]) => gap).sort();

describe('messages of the interface', () => {
  it('are the same in both languages, with the same gaps to fill', () => {
    expect([...texts.pt.keys()]).toEqual([...texts.en.keys()]);
    for (const [key, text] of texts.en) expect([key, gaps(texts.pt.get(key)!)]).toEqual([key, gaps(text)]);
  });

  it('are translated: long ones are never left in English', () => {
    const left = [...texts.en].filter(([key, text]) => words(text) > 3 && texts.pt.get(key) === text);
    expect(left.map(([key]) => key)).toEqual([]);
  });

  it('leave no words in the screens themselves, but for code', () => {
    const found: string[] = [];
    for (const file of sources.filter((f) => f.endsWith('.tsx'))) {
      const text = readFileSync(`${folder}${file}`, 'utf8');
      for (const [, name, words] of text.matchAll(/(aria-label|placeholder|title)="([^"]*[a-z]{3}[^"]*)"/g))
        if (!/[:*]|\w\.\w/.test(words!)) found.push(`${file}: ${name} ${words}`);
    }
    expect(found).toEqual([]);
  });
});

describe('words of the engine and the server', () => {
  beforeAll(async () => {
    takeEngineWords('pt-PT', ptWords);
    await i18next.init({ lng: 'pt-PT', resources: { 'pt-PT': { translation: pt } }, showSupportNotice: false });
  });
  afterAll(() => i18next.changeLanguage('en'));

  it('are there in Portuguese for every problem, with the same gaps', () => {
    expect(Object.keys(ptWords.problems)).toEqual(Object.keys(PROBLEM_WORDS));
    for (const [code, words] of Object.entries(PROBLEM_WORDS)) {
      const ours = ptWords.problems[code as keyof typeof PROBLEM_WORDS];
      expect([code, gaps(ours.says), gaps(ours.mend)]).toEqual([code, gaps(words.says), gaps(words.mend)]);
    }
  });

  it('are replaced in a language of the host’s, which lacks none of those that it begins as', () => {
    const given = {
      'engine.problems.text-cut-off.says': 'Y mae testun wedi ei dorri.',
      'engine.problems.new-one.says': 'Newydd.',
      'engine.errors.not-allowed.title': 'Nid yw hyn yn bosibl',
      'engine.functions.STDEV.S': 'Gwyriad safonol.',
      'engine.phrases.e-no-number': 'nid oes rhif o’r fath',
      'engine.colours.red': 'coch',
      'engine.problems.text-cut-off.why': 'x',
      'export.title': 'Allforio',
    };
    const words = hostEngineWords(ptWords, given);
    const { 'text-cut-off': cut } = ptWords.problems;
    expect(words.problems['text-cut-off']).toEqual({ says: 'Y mae testun wedi ei dorri.', mend: cut.mend });
    expect(words.problems['new-one']).toEqual({ says: 'Newydd.', mend: '' });
    expect(words.errors['not-allowed']!.title).toBe('Nid yw hyn yn bosibl');
    expect(words.functions['STDEV.S']).toBe('Gwyriad safonol.');
    expect(words.phrases['e-no-number']).toBe('nid oes rhif o’r fath');
    expect(Object.keys(words)).toEqual(Object.keys(ptWords));
    expect(ptWords.errors['not-allowed'].title).not.toBe(words.errors['not-allowed']!.title);
    expect(hostEngineWords(undefined, given).problems['text-cut-off']!.mend).toBe(PROBLEM_WORDS['text-cut-off'].mend);
  });

  it('are there for every error of the API', () => {
    const listed = readFileSync(fileURLToPath(new URL('../../../../docs/errors.md', import.meta.url)), 'utf8');
    const rows = [...listed.matchAll(/^\| `([\w-]+)` \| \d+ \| [^|]+ \| ([^|]+) \|$/gm)];
    expect(Object.keys(ptWords.errors)).toEqual(rows.map(([, code]) => code));
    for (const [, code, detail] of rows)
      expect([code, gaps(ptWords.errors[code as keyof typeof ptWords.errors].detail)]).toEqual([code, gaps(detail!)]);
  });

  it('are there for every function and every argument', () => {
    const read = readDefinition({ gaveta: 2, name: 'x', model: 'office' });
    if (!read.ok) throw new Error(JSON.stringify(read.problems));
    const { report } = read;
    const offered = completionsFor(report, { drawer: null, band: 'header' }, { models: [], report: () => null });
    const calls = offered.filter((c) => c.kind === 'function' || c.kind === 'total');
    expect(calls.length).toBeGreaterThan(120);
    for (const call of calls) {
      const [signature, help] = functionWords(call).split('\n');
      expect([call.insert, help]).not.toEqual([call.insert, call.detail]);
      const names = call.label.slice(call.insert.length).match(/[a-z]+/g) ?? [];
      for (const name of names) expect(Object.keys(ptWords.arguments)).toContain(name);
      expect(signature!.match(/;/g)).toEqual(call.label.match(/;/g));
    }
  });

  it('have every phrase that fills a gap, with the same gaps', () => {
    expect(Object.keys(ptWords.phrases)).toEqual(Object.keys(PHRASES));
    for (const [code, words] of Object.entries(PHRASES))
      expect([code, gaps(ptWords.phrases[code as PhraseCode])]).toEqual([code, gaps(words)]);
  });

  it('fill problems with phrases of the same language', () => {
    const says = (p: Problem): string => problemWords(p);
    const formula = checkFormula('"a" + 1 + ROUND()', constantScope([]));
    expect(formula.ok ? [] : formula.problems.map(says)).toEqual([
      '“+” precisa de um número, e isto é texto. Converta-o, ou use outro campo.',
      'ROUND recebe 1 a 2 valores, como ROUND(value; digits?), não 0. Mude o que está entre os parênteses.',
    ]);
    expect(says(problem('unknown-name', {}, { name: 'amout', hint: phrase('did-you-mean', { name: 'amount' }) }))).toBe(
      '“amout” não é campo, gaveta nem parâmetro ao alcance daqui. Quis dizer amount?',
    );
    const data = { setting: phrase('setting-color'), given: 'red', expected: phrase('color-code') };
    expect(says(problem('unfit-setting', {}, data))).toBe(
      '“red” não serve para esta definição (cor); fica como está definida. Faça a fórmula dar uma cor como #rrggbb.',
    );
  });

  it('have no phrase that nothing says', () => {
    const at = fileURLToPath(new URL('../../../', import.meta.url));
    const code = (readdirSync(at, { recursive: true }) as string[])
      .filter((file) => /^\w+.src.*\.tsx?$/.test(file) && !/\.test|problems.phrases/.test(file))
      .map((file) => readFileSync(at + file, 'utf8'))
      .join('');
    // Those of a family are said by the name of a type, a period, a setting or a barcode.
    const alone = Object.keys(PHRASES).filter((phrase) => !/^(type|column|per|setting|holds)-/.test(phrase));
    expect(alone.filter((phrase) => !code.includes(`'${phrase}'`))).toEqual([]);
  });

  it('are never written into the data of a problem', () => {
    const gap = 'detail|hint|expected|given|where|type|hereType|thereType|setting';
    const sentence = new RegExp(`\\b(?:${gap}):\\s*['"\`][^'"\`]*[a-z]{2}[^'"\`]* [^'"\`]*['"\`]`, 'g');
    const found: string[] = [];
    for (const at of ['core', 'server'].map((name) => fileURLToPath(new URL(`../../../${name}/src/`, import.meta.url))))
      for (const file of readdirSync(at, { recursive: true }) as string[]) {
        if (!file.endsWith('.ts') || /\.test|problems.words|api-error|contract/.test(file)) continue;
        const text = readFileSync(at + file, 'utf8');
        for (const [, code, data] of text.matchAll(/(?:problem|wrong|RowProblem)\(\s*'([\w-]+)'([^;]*)/g))
          for (const [words] of data!.matchAll(sentence)) found.push(`${file}: ${code}: ${words}`);
      }
    expect(found).toEqual([]);
  });

  it('say what a run and a statement failed of, and leave what another program said', () => {
    expect(saidWords(phrase('statement-slow', { seconds: 8 }))).toBe('A instrução foi terminada ao fim de 8 segundos.');
    expect(saidWords(phrase('took-much', { most: 512 }))).toBe('Precisa de mais de 512 MB de memória.');
    expect(saidWords('column "x" does not exist')).toBe('Column "x" does not exist.');
  });

  it('fills errors of the API from their data', () => {
    const document = { data: { author: 'rita', revision: 4 } };
    expect(errorWords({ code: 'conflict', title: 'x', detail: 'y', document }).detail).toMatch(/^rita guardou .* 4 /);
    const refused = { data: { detail: phrase('file-row-long', { row: 2, count: 3, first: 2 }) } };
    expect(errorWords({ code: 'connection-not-usable', title: 'x', detail: 'y', document: refused }).detail).toBe(
      'A linha 2 tem 3 células, a primeira tem 2. Será outro o carácter entre as células?',
    );
    expect(errorWords({ code: 'of-a-newer-server', title: 'x', detail: 'y', document })).toEqual({
      title: 'x',
      detail: 'y',
    });
  });
});
