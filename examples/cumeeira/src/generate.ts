import { outlineOf, placeOf } from './outlines.ts';
import { drawHut } from './photo.ts';
import { type Random, seededRandom } from './random.ts';

type Cell = string | number | null;

/** Rows of the demo by table, each in the order of the table's columns. */
export type Tables = Record<string, Cell[][]>;

const REGIONS = [
  ['Alto Norte', 'Vila do Cume', 18400],
  ['Encosta Sul', 'Ribeira Alta', 12650],
  ['Ilha de Pedra', 'Porto da Serra', 7300],
  ['Vale Escuro', 'Fonte Fria', 15980],
] as const;

const HUTS = [
  'Casa da Brecha',
  'Pedra Longa',
  'Lago Frio',
  'Chã das Éguas',
  'Penedo Redondo',
  'Nave do Gelo',
  'Cova do Vento',
  'Três Irmãos',
  'Fonte da Água Amargosa',
  'Poço do Lobo',
  'Cabeço do Ouro',
  'Ombro do Gigante',
  'Malhada Velha',
  'Cântaro Verde',
  'Bico da Garça',
  'Laje do Trovão',
  'Alminhas',
  'Torre Caída',
  'Vale de Urze',
  'Portela Escura',
  'Refúgio da Última Neve e das Andorinhas',
  'Corga Funda',
  'Sino Quebrado',
  'Olho de Água',
];

const GIVEN = [
  'Inês',
  'Tomás',
  'Noa',
  'Marta',
  'João',
  'Beatriz',
  'Zoë',
  'Émile',
  'Søren',
  'Ana',
  'Luís',
  'Kateřina',
  'Björn',
  'Maëlle',
  'Rui',
  'Ágata',
  'Nuno',
  'Łucja',
  'Óscar',
  'Elif',
  'Davi',
  'Iker',
  'Saoirse',
  'Mateus',
  'Yara',
];
const FAMILY = [
  'Albuquerque',
  'Ferrão',
  'Lindqvist',
  'Quintanilha',
  'Varela',
  'Nóbrega',
  'Castanheda',
  'Wójtowicz',
  'Ekström',
  'Braga',
  'Dvořáková',
  'Sá',
  'Ó Faoláin',
  'Montenegro',
  'Cabral',
  'Öztürk',
  'Peñalosa',
  'Girão',
  'Teles',
  'Fjeldstad',
  'Moura',
  'Achterberg',
  'Brandão',
];
const RIGHT_TO_LEFT_NAME = 'يوسف الحداد';

const KINDS = [
  ['bunk', 28, 0.06],
  ['half board', 31.5, 0.13],
  ['linen', 6.5, 0.23],
  ['firewood', 9, 0.23],
  ['rescue levy', 1.5, 0],
  ['transfer', 75, 0.06],
] as const;

const DAY = 86_400_000;
/** Until when the demo's rows go: its own present day, so that it is the same every day. */
export const DEMO_TODAY = Date.UTC(2026, 6, 1);
const day = (ms: number): string => new Date(ms).toISOString().slice(0, 10);
const cents = (value: number): string => (Math.round(value * 100 + 1e-7) / 100).toFixed(2);

/**
 * Every row of the demo, the same on every machine. `scale` multiplies members, stays, charges, payments and readings.
 * Among them are odd ones on purpose: a hut without stays (24), stays without charges, long and accented names, a
 * right-to-left name, a missing photo, a NULL price, a refund, an amount that rounds from 0.005, leap days, readings in
 * the nights when clocks change.
 */
export const generateTables = (scale = 1): Tables => {
  const random = seededRandom(20_260_701);
  const tables: Tables = {};
  tables.region = REGIONS.map(([name, office, hectares], i) => [i + 1, name, office, hectares, outlineOf(i)]);
  tables.hut = HUTS.map((name, i) => hut(random, name, i));
  tables.member = Array.from({ length: 1500 * scale }, (_, i) => member(random, i));
  Object.assign(tables, stays(random, 6000 * scale, 1500 * scale));
  Object.assign(tables, wardens(random), inspections(random), flights(random), readings(random, scale));
  return tables;
};

const NOTICES = [
  (name: string) =>
    `<p>The path to <b>${name}</b> is <b>closed by night</b>.</p><ul><li>Bring a lamp</li><li>Ring the bell at the gate</li></ul>`,
  (name: string) =>
    `<h3>Water</h3><p>The spring above ${name} runs dry in late August: <i>take two litres up</i>. See <a href="https://cumeeira.example/water">where there is water</a>.</p>`,
  () =>
    '<p>Half board is served <b>at seven</b>.</p><ol><li>Soup</li><li>Stew, or <i>beans</i> for those who eat no meat</li><li>Cheese of the valley</li></ol>',
  () =>
    '<h3>Getting there</h3><table><tr><th>From</th><th>Hours</th></tr><tr><td>the valley</td><td>3½</td></tr><tr><td>the pass</td><td>2</td></tr></table>',
];

/** What the warden has put up, as HTML; one of them pasted a script along. */
const noticeOf = (i: number, name: string): string | null => {
  if (i % 6 === 5) return null;
  const notice = NOTICES[i % NOTICES.length]!(name);
  return i === 8 ? `${notice}<script>document.title = "${name}"</script>` : notice;
};

const hut = (random: Random, name: string, i: number): Cell[] => {
  const altitude = random.whole(1450, 2560);
  const beds = random.whole(12, 64);
  const about = [
    `${name} stands at ${altitude} m, ${random.pick(['below the north face', 'on the old shepherds’ path', 'beside a tarn', 'where two ridges meet'])}.`,
    random.pick([
      'The stove is lit from September on, and the spring runs all year.',
      'Its terrace looks over three valleys; on clear evenings the sea can be seen.',
      'Built by volunteers in a single summer, and rebuilt twice after storms.',
    ]),
    random.pick([
      'Bring slippers and a sleeping bag liner.',
      'The last hour of the path is exposed when it blows.',
      'Dogs sleep in the wood store.',
    ]),
  ];
  const opened =
    i === 5 ? '1988-02-29' : day(Date.UTC(random.whole(1931, 2012), random.whole(4, 9), random.whole(1, 28)));
  const photo = i === 3 ? null : `\\x${drawHut(random).toString('hex')}`;
  return [
    i + 1,
    (i % 4) + 1,
    name,
    altitude,
    beds,
    opened,
    about.join(' '),
    photo,
    random.pick([70, 80, 90, 100]),
    noticeOf(i, name),
    ...placeOf(i % 4, i),
  ];
};

const person = (random: Random): string => {
  const name = `${random.pick(GIVEN)} ${random.pick(FAMILY)}`;
  return random.chance(0.08) ? `${name} ${random.pick(FAMILY)} de ${random.pick(FAMILY)}` : name;
};

const member = (random: Random, i: number): Cell[] => {
  const id = i + 1;
  const name = id % 211 === 7 ? RIGHT_TO_LEFT_NAME : person(random);
  const tier = random.pick(['guest', 'guest', 'member', 'member', 'member', 'patron']);
  const country = random.pick(['PT', 'PT', 'PT', 'ES', 'FR', 'SE', 'CZ', 'IE', 'PL', 'TR']);
  const birth = random.chance(0.04) ? null : random.whole(1941, 2006);
  return [id, name, `C-${String(id).padStart(5, '0')}`, tier, country, `m${id}@cumeeira.example`, birth];
};

const stays = (random: Random, count: number, members: number): Tables => {
  const stay: Cell[][] = [];
  const charge: Cell[][] = [];
  const payment: Cell[][] = [];
  for (let id = 1; id <= count; id++) {
    const season = random.pick([2024, 2025, 2025, 2025, 2026]);
    const last = season === 2026 ? 30 : 153;
    // A few come on the leap day.
    const arrival = id % 997 === 5 ? Date.UTC(2024, 1, 29) : Date.UTC(season, 5, 1) + random.whole(0, last - 1) * DAY;
    const nights = random.pick([1, 1, 1, 2, 2, 3, 5]);
    const party = random.pick([1, 2, 2, 2, 3, 4, 4, 6, 8, 12]);
    const status = random.chance(0.8) ? 'stayed' : random.pick(['booked', 'no-show', 'cancelled']);
    const bookedAt = new Date(arrival - random.whole(3, 200) * DAY + random.whole(0, 86_399) * 1000).toISOString();
    // The last hut stands without stays.
    const hutId = random.whole(1, HUTS.length - 1);
    stay.push([
      id,
      hutId,
      random.whole(1, members),
      day(arrival),
      day(arrival + nights * DAY),
      party,
      status,
      bookedAt,
    ]);
    if (id % 250 === 17) continue;
    let total = 0;
    const bill = (
      kind: string,
      quantity: number,
      price: number | null,
      vat: number,
      note: string | null = null,
    ): void => {
      const amount = price === null ? null : cents(quantity * price);
      total += Number(amount ?? 0);
      charge.push([charge.length + 1, id, kind, note, quantity, price === null ? null : price.toFixed(2), vat, amount]);
    };
    const [bunk, board, linen, firewood, levy, transfer] = KINDS;
    bill(bunk[0], party * nights, bunk[1] + (season - 2024), bunk[2]);
    bill(levy[0], party, levy[1], levy[2]);
    if (random.chance(0.72)) bill(board[0], party * nights, board[1], board[2]);
    if (random.chance(0.68)) bill(linen[0], party, linen[1], linen[2]);
    if (random.chance(0.55)) bill(firewood[0], random.whole(1, 3), firewood[1], firewood[2]);
    if (random.chance(0.16))
      bill(transfer[0], 1, transfer[1], transfer[2], random.pick(['Vila do Cume to the roadhead', 'with skis', null]));
    if (id % 400 === 9) bill('linen', 1, null, 0.23, 'price to be agreed');
    if (id % 1500 === 11) bill('firewood', 0.5, 0.01, 0.23, 'rounds up from 0.005');
    if (status === 'cancelled') bill('bunk', party * nights, -(bunk[1] + season - 2024), bunk[2], 'refund');
    if (status === 'booked' || random.chance(0.06)) continue;
    const method = random.pick(['card', 'card', 'transfer', 'cash']);
    const parts = total > 150 && random.chance(0.3) ? [total * 0.3, total * 0.7] : [total];
    for (const [i, part] of parts.entries()) {
      const paid = day(arrival + (i === 0 ? -10 : nights) * DAY);
      payment.push([
        payment.length + 1,
        id,
        paid,
        method,
        i === 1 ? cents(total - Number(cents(parts[0]!))) : cents(part),
      ]);
    }
  }
  return { stay, charge, payment };
};

const COURSES = [
  ['Mountain first aid', 'basic'],
  ['Avalanche rescue', 'advanced'],
  ['Radio operator', 'basic'],
  ['Kitchen hygiene', 'basic'],
  ['Rope rescue', 'advanced'],
  ['Stove and flue safety', 'basic'],
  ['Guest care in two languages', 'basic'],
] as const;

const wardens = (random: Random): Tables => {
  const warden: Cell[][] = [];
  const certificate: Cell[][] = [];
  for (let hutId = 1; hutId <= HUTS.length; hutId++) {
    for (let i = random.whole(1, 4); i > 0; i--) {
      const from = Date.UTC(random.whole(2014, 2025), random.whole(0, 11), random.whole(1, 28));
      const to = random.chance(0.3) ? day(from + random.whole(300, 1400) * DAY) : null;
      const id = warden.push([warden.length + 1, hutId, person(random), day(from), to]);
      for (let k = random.whole(0, 5); k > 0; k--) {
        const passed = from + random.whole(0, 900) * DAY;
        const until = random.chance(0.2) ? null : day(passed + random.pick([730, 1095]) * DAY);
        certificate.push([certificate.length + 1, id, random.whole(1, COURSES.length), day(passed), until]);
      }
    }
  }
  return { warden, course: COURSES.map(([title, level], i) => [i + 1, title, level]), certificate };
};

const TOPICS = [
  'Roof and gutters',
  'Stove and flue',
  'Water',
  'Radio and battery',
  'First-aid store',
  'Mattresses',
  'Fire doors',
  'Waste',
];

const inspections = (random: Random): Tables => {
  const inspection: Cell[][] = [];
  const finding: Cell[][] = [];
  for (let hutId = 1; hutId <= HUTS.length; hutId++) {
    for (const year of [2023, 2024, 2025]) {
      const on = day(Date.UTC(year, random.whole(3, 9), random.whole(1, 28)));
      const id = inspection.push([
        inspection.length + 1,
        hutId,
        on,
        random.pick(['Rute Sampaio', 'Otto Brandt', 'Célia Norte']),
      ]);
      for (const topic of TOPICS) {
        const score = random.whole(1, 10);
        const remark =
          score < 5
            ? random.pick(['Repair before winter.', 'Ordered, not delivered yet.', 'Seen last year as well.'])
            : null;
        finding.push([finding.length + 1, id, topic, score, random.pick([4, 5, 6]), remark]);
      }
    }
  }
  return { inspection, finding };
};

const flights = (random: Random): Tables => {
  const flight: Cell[][] = [];
  for (let hutId = 1; hutId <= HUTS.length; hutId++) {
    for (let i = random.whole(2, 9); i > 0; i--) {
      const kg = random.whole(2200, 9800) / 10;
      const on = day(Date.UTC(random.pick([2024, 2025]), random.whole(3, 9), random.whole(1, 28)));
      flight.push([flight.length + 1, hutId, on, kg, cents(180 + kg * 1.35)]);
    }
  }
  return { flight };
};

const STEP = 600_000;

/** Ten-minute readings up to the demo's present, and those around the night when the clocks go forward. */
const readings = (random: Random, scale: number): Tables => {
  const weather: Cell[][] = [];
  const signals: Cell[][] = [];
  const each = Math.floor((60_000 * scale) / HUTS.length);
  const clockChange = Date.UTC(2026, 2, 29);
  for (let hutId = 1; hutId <= HUTS.length; hutId++) {
    let wind = random.whole(10, 50);
    let battery = random.whole(60, 100);
    for (let i = 0; i < each; i++) {
      const night = i < 72;
      const at = night ? clockChange + i * STEP : DEMO_TODAY - (each - i) * STEP;
      wind = Math.max(0, Math.min(140, wind + (random.unit() - 0.49) * 9));
      battery = Math.max(5, Math.min(100, battery + random.pick([-1, 0, 0, 1])));
      const snow = night ? random.whole(80, 160) : random.whole(0, 12);
      const visibility = random.chance(0.01) ? null : (random.whole(2, 400) / 10).toFixed(1);
      const stamp = new Date(at).toISOString();
      weather.push([hutId, stamp, wind.toFixed(1), snow, battery, visibility]);
      if (i % 12 === 0) {
        signals.push(
          [stamp, hutId, 'wind_kmh', wind.toFixed(4)],
          [stamp, hutId, 'battery_pct', battery],
          [stamp, hutId, 'door', random.whole(0, 1)],
        );
      }
    }
  }
  return { weather_10min: weather, signal_log: signals };
};
