import { describe, expect, test } from 'vitest';
import { planReport } from '../data/plan.ts';
import { type Report, reportSchema } from '../definition/schema.ts';
import type { Model } from '../model/model.ts';
import { pluralExamples, pluralForm } from '../text/plural.ts';
import { bestLanguage, languageOfRun } from './choose.ts';
import { takeTranslations } from './files/taken.ts';
import { lineOfPieces, numbersIn, piecesOfLine } from './pieces.ts';
import { textsOf } from './texts.ts';
import { dictionaryOf, inLanguage, modelInLanguage } from './translate.ts';

const box = { x: 0, y: 0, width: 50, height: 5 };

const MODEL: Model = {
  name: 'huts',
  label: 'Huts',
  texts: { 'pt-PT': { Hut: 'Cabana', Huts: 'Cabanas', Nights: 'Noites', Booked: 'Reservada' } },
  entities: [
    {
      name: 'hut',
      label: 'Hut',
      plural: 'Huts',
      key: 'id',
      fields: [
        { name: 'id', label: 'Id', type: 'number' },
        { name: 'nights', label: 'Nights', type: 'number' },
        { name: 'status', label: 'Status', type: 'text', choices: [{ value: 'b', label: 'Booked' }] },
      ],
      relations: [],
    },
  ],
};

const REPORT: Report = reportSchema.parse({
  gaveta: 2,
  name: 'Nights by hut',
  model: 'huts',
  language: 'en',
  parameters: [
    {
      name: 'kind',
      label: 'Kind of stay',
      type: 'choice',
      choices: [{ value: 'a', label: 'All of them' }],
      allLabel: 'every kind',
    },
  ],
  header: {
    height: 20,
    items: [
      { kind: 'text', id: 'caption', ...box, content: ['Nights'] },
      {
        kind: 'text',
        id: 'line',
        ...box,
        content: ['Of {all} ', { formula: 'parameters.kind' }, ': ', { text: 'paid', look: { bold: true } }],
      },
      { kind: 'text', id: 'number', ...box, content: [{ formula: '1 + 1' }, ' – '] },
      { kind: 'picture', id: 'photo', ...box, alternative: 'A hut in snow' },
    ],
  },
  body: [
    {
      id: 'huts',
      name: 'hut',
      rows: { entity: 'hut' },
      calculated: [{ name: 'twice', label: 'Twice the nights', formula: 'nights * 2' }],
      detail: {
        height: 5,
        items: [
          {
            kind: 'field',
            id: 'wind',
            ...box,
            formula: 'IF(status = "b"; SAY("full ""up"""); nights & " " & PLURAL(nights; "night"; "nights"))',
          },
          {
            kind: 'chart',
            id: 'chart',
            ...box,
            measures: [{ formula: 'SUM(nights)', caption: 'Nights' }],
            colors: [{ label: 'Nights', color: '#112233' }],
          },
        ],
      },
    },
  ],
  translations: [
    {
      language: 'pt-PT',
      texts: {
        'Nights by hut': 'Noites por cabana',
        'Of {{all}} {1}: {2:paid}': '{2:pago} de {{tudo}}: {1}',
        'full "up"': 'cheia "de todo"',
        'night | nights': 'noite | noites',
      },
    },
    { language: 'pl', texts: { 'night | nights': 'noc | noce | nocy' } },
  ],
});

const itemIn = (report: Report, id: string): unknown =>
  [report.header!, report.body[0]!.detail!].flatMap(({ items }) => items).find((item) => item.id === id);

describe('the texts of a report', () => {
  test('are those that readers read, each once, and no names, values or formulas', () => {
    const texts = textsOf(REPORT);
    expect(texts.map(({ text, kind }) => [text, kind])).toEqual([
      ['Nights by hut', 'text'],
      ['Kind of stay', 'text'],
      ['every kind', 'text'],
      ['All of them', 'text'],
      ['Nights', 'text'],
      ['Of {{all}} {1}: {2:paid}', 'line'],
      ['A hut in snow', 'text'],
      ['Twice the nights', 'text'],
      ['full "up"', 'text'],
      ['night | nights', 'forms'],
    ]);
    const line = texts.find(({ kind }) => kind === 'line')!;
    expect(line.formulas).toEqual({ 1: 'parameters.kind' });
    expect(line.paths).toEqual(['header/items/1/content']);
    expect(texts.find(({ text }) => text === 'Nights')!.paths).toEqual([
      'header/items/0/content',
      'body/0/detail/items/1/measures/0/caption',
    ]);
  });
});

describe('a report in another language', () => {
  const portuguese = inLanguage(REPORT, 'pt-PT', [MODEL]);

  test('says its own translations, and the labels of its model', () => {
    expect(portuguese).toMatchObject({ name: 'Noites por cabana', language: 'pt-PT' });
    expect(itemIn(portuguese, 'caption')).toMatchObject({ content: ['Noites'] });
    expect(itemIn(portuguese, 'chart')).toMatchObject({
      measures: [{ caption: 'Noites', formula: 'SUM(nights)' }],
      colors: [{ label: 'Noites' }],
    });
  });

  test('puts the values of a line where its translation has them, in their looks', () => {
    expect(itemIn(portuguese, 'line')).toMatchObject({
      content: [{ text: 'pago', look: { bold: true } }, ' de {tudo}: ', { formula: 'parameters.kind' }],
    });
  });

  test('puts texts into formulas, which stay formulas', () => {
    expect(itemIn(portuguese, 'wind')).toMatchObject({
      formula: 'IF(status = "b"; SAY("cheia ""de todo"""); nights & " " & PLURAL(nights; "noite"; "noites"))',
    });
    const polish = inLanguage(REPORT, 'pl', [MODEL]);
    expect(itemIn(polish, 'wind')).toMatchObject({
      formula: expect.stringContaining('PLURAL(nights; "noc"; "noce"; "nocy")'),
    });
  });

  test('leaves what nobody has translated as it is, and shares it', () => {
    expect(itemIn(portuguese, 'photo')).toBe(itemIn(REPORT, 'photo'));
    expect(portuguese.parameters).toBe(REPORT.parameters);
    expect(inLanguage(REPORT, 'de', [MODEL])).toBe(REPORT);
    expect(inLanguage(REPORT, 'en', [MODEL])).toBe(REPORT);
  });

  test('is what is planned for it, with labels of the model in it; without one it speaks its own', () => {
    const context = { models: [MODEL], report: () => null, rowsFromDatabase: true };
    const plan = planReport(REPORT, { ...context, language: 'pt-BR' });
    expect(plan.report).toEqual(portuguese);
    expect(plan.model?.entities[0]).toMatchObject({ label: 'Cabana', plural: 'Cabanas' });
    expect(plan.model?.entities[0]?.fields[2]?.choices).toEqual([{ value: 'b', label: 'Reservada' }]);
    expect(planReport(REPORT, { ...context, language: 'fr' }).report).toBe(REPORT);
    expect(planReport(REPORT, context).model?.entities[0]).toMatchObject({ label: 'Hut' });
  });

  test('takes no text from what every object has', () => {
    const say = dictionaryOf(REPORT, 'pt-PT', [MODEL]);
    for (const text of ['constructor', '__proto__', 'toString']) expect(say(text)).toBeNull();
    expect(modelInLanguage(MODEL, 'constructor')).toBe(MODEL);
  });
});

describe('a line', () => {
  test('comes back as the pieces that it was made of', () => {
    const contents = [
      ['plain'],
      ['{', { formula: 'a' }, '}}'],
      [{ formula: 'a', format: '0.0' }, { formula: 'b' }, { text: 'x}y{', look: { italic: true } }],
      ['a {1} b', { formula: 'c' }],
    ];
    for (const content of contents) expect(piecesOfLine(lineOfPieces(content), content)).toEqual(content);
  });

  test('shows numbers that the text does not have as they are written', () => {
    expect(piecesOfLine('{7} a {1} {', ['x', { formula: 'a' }])).toEqual(['{7} a ', { formula: 'a' }, ' {']);
    expect(numbersIn('{2} {{3}} {1:a} {2}')).toEqual([1, 2]);
  });
});

describe('the language of a run', () => {
  test('is the best of those that its reader wants, in their order', () => {
    const offered = ['en', 'pt-PT', 'zh-Hant', 'de'];
    const cases: [string[], string | null][] = [
      [['pt-PT'], 'pt-PT'],
      [['PT_pt'], 'pt-PT'],
      [['pt'], 'pt-PT'],
      [['pt-BR', 'de'], 'pt-PT'],
      [['de-AT-1996'], 'de'],
      [['zh-Hant-TW'], 'zh-Hant'],
      [['fr', 'de'], 'de'],
      [['fr'], null],
      [[''], null],
      [[], null],
    ];
    for (const [wanted, best] of cases) expect(bestLanguage(wanted, offered), wanted.join()).toBe(best);
  });

  test('is that of the reader, of a parameter, or always its own, as the report says', () => {
    const reader = ['pt-BR', 'pl'];
    expect(languageOfRun(REPORT, { reader })).toBe('pt-PT');
    expect(languageOfRun(REPORT, { reader: ['fr'] })).toBe('en');
    expect(languageOfRun({ ...REPORT, languageFrom: 'report' }, { reader })).toBe('en');
    const byParameter: Report = { ...REPORT, languageFrom: { parameter: 'kind' } };
    expect(languageOfRun(byParameter, { reader, values: { kind: 'pl' } })).toBe('pl');
    expect(languageOfRun(byParameter, { reader, values: { kind: null } })).toBe('en');
    expect(languageOfRun(byParameter, { reader })).toBe('en');
  });
});

describe('the forms of a word', () => {
  test('follow the count as the language has it', () => {
    const forms: [string, string[], Record<number, string>][] = [
      ['en', ['night', 'nights'], { 0: 'nights', 1: 'night', 2: 'nights', 1.5: 'nights', '-1': 'night' }],
      ['pt-PT', ['noite', 'noites'], { 0: 'noites', 1: 'noite', 2: 'noites', 1000000: 'noites' }],
      ['fr', ['nuit', 'nuits'], { 0: 'nuit', 1: 'nuit', 1.5: 'nuit', 2: 'nuits' }],
      ['pl', ['noc', 'noce', 'nocy'], { 0: 'nocy', 1: 'noc', 2: 'noce', 5: 'nocy', 12: 'nocy', 22: 'noce' }],
      ['ja', ['泊'], { 0: '泊', 1: '泊', 2: '泊' }],
      ['ar', ['z', 'o', 't', 'f', 'm', 'x'], { 0: 'z', 1: 'o', 2: 't', 3: 'f', 11: 'm', 100: 'x' }],
      ['nonsense!', ['night', 'nights'], { 1: 'night', 3: 'nights' }],
    ];
    for (const [language, words, counts] of forms)
      for (const [count, word] of Object.entries(counts))
        expect(pluralForm(Number(count), words, language), `${language} ${count}`).toBe(word);
  });

  test('have counts as examples', () => {
    expect(pluralExamples('en')).toEqual([1, 2]);
    expect(pluralExamples('pl')).toEqual([1, 2, 5]);
    expect(pluralExamples('ja')).toEqual([1]);
    expect(pluralExamples('ar')).toEqual([0, 1, 2, 3, 11, 100]);
  });
});

test('rows of a file become translations, and those that fit nothing are told of', () => {
  const rows = [
    { text: 'Nights', translation: 'Noches' },
    { text: 'Of {{all}} {1}: {2:paid}', translation: 'De {1}' },
    { text: 'Kind of stay', translation: ' ' },
    { text: 'Somewhere else', translation: 'Otro lugar' },
  ];
  const taken = takeTranslations({ 'every kind': 'todas', Nights: 'Noches' }, rows, textsOf(REPORT));
  expect(taken).toEqual({
    texts: { 'every kind': 'todas', Nights: 'Noches', 'Of {{all}} {1}: {2:paid}': 'De {1}' },
    changed: 1,
    unknown: ['Somewhere else'],
    uneven: ['Of {{all}} {1}: {2:paid}'],
  });
});
