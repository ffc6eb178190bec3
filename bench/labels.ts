import { PGlite } from '@electric-sql/pglite';
import { defineModel, pgliteConnection } from '@gaveta/server';
import { line, median, time } from './measure.ts';
import { toPdf } from './to-pdf.ts';

/** Labels with a QR code each, every content another, against the same labels without codes. */
const LABELS = 1_500;
const ROUNDS = 5;

const database = new PGlite();
await database.exec(`
  create table bunk (id int primary key, name text);
  insert into bunk select i, 'Bunk ' || i from generate_series(1, ${LABELS * ROUNDS}) i;
`);
const model = defineModel({
  name: 'bench',
  label: 'Bench',
  connection: 'main',
  entities: {
    bunk: {
      label: 'Bunk',
      plural: 'Bunks',
      key: 'id',
      fields: { id: { label: 'Number', type: 'number' }, name: { label: 'Name', type: 'text' } },
    },
  },
});
const run = await toPdf(model, pgliteConnection(database));

/** Labels of one round, so that no content was made before. */
const labels = (round: number, hasCode: boolean) => {
  const code = { kind: 'barcode', id: 'code', x: 35, y: 2, width: 20, height: 20, code: 'qr' };
  const items = [
    { kind: 'field', id: 'name', x: 2, y: 2, width: 30, height: 6, formula: 'name' },
    ...(hasCode ? [{ ...code, formula: '"https://cumeeira.example/bunks/" & id' }] : []),
  ];
  const filter = `AND(id > ${round * LABELS}; id <= ${(round + 1) * LABELS})`;
  return {
    name: 'Labels',
    body: [
      {
        id: 'bunks',
        name: 'bunk',
        rows: { entity: 'bunk' },
        filter,
        columns: { count: 3, gap: 2 },
        detail: { height: 25, items },
      },
    ],
  };
};

console.log(`${LABELS.toLocaleString('en')} labels, to PDF`);
const [without, withCodes]: number[][] = [[], []];
let [plain, made] = [
  { pages: 0, bytes: 0 },
  { pages: 0, bytes: 0 },
];
for (let round = 0; round < ROUNDS; round++) {
  const first = await time(() => run(labels(round, false)));
  const second = await time(() => run(labels(round, true)));
  without!.push(first.seconds);
  withCodes!.push(second.seconds);
  [plain, made] = [first.value, second.value];
}
const [least, most] = [median(without!), median(withCodes!)];
line('labels without codes (baseline)', least, `${plain.pages} pages, ${Math.round(plain.bytes / 1000)} kB`);
line('with a QR code each', most, `${made.pages} pages, ${Math.round(made.bytes / 1000)} kB`);
console.log(`    ${(((most - least) / LABELS) * 1000).toFixed(2)} ms for each code; aim: 1 ms`);
await database.close();
