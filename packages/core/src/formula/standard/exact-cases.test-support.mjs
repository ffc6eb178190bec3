import { writeFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';

/**
 * Makes the table of cases whose results follow from arithmetic and the calendar alone: `node packages/core/src/formula/standard/exact-cases.test-support.mjs`. Numbers are
 * fractions of whole numbers of any size, days are counted one by one, texts are lists of signs: nothing of the engine is used, so
 * that its tests hold it against something else.
 */
let seed = 20_250_712;
const random = (below) => {
  seed = (seed * 1_103_515_245 + 12_345) % 2_147_483_648;
  return Math.floor((seed / 2_147_483_648) * below);
};
const pick = (list) => list[random(list.length)];
const between = (from, to) => from + random(to - from + 1);
const times = (count, make) => Array.from({ length: count }, (_, i) => make(i));

// Fractions.
const gcd = (a, b) => (b === 0n ? (a < 0n ? -a : a) : gcd(b, a % b));
const fraction = (above, below = 1n) => {
  const by = gcd(above, below) * (below < 0n ? -1n : 1n);
  return { above: above / by, below: below / by };
};
const read = (text) => {
  const [, sign, whole, part = ''] = /^(-?)(\d+)(?:\.(\d*))?$/.exec(text);
  return fraction(BigInt(`${sign}${whole}${part}`), 10n ** BigInt(part.length));
};
const add = (a, b) => fraction(a.above * b.below + b.above * a.below, a.below * b.below);
const minus = (a) => fraction(-a.above, a.below);
const subtract = (a, b) => add(a, minus(b));
const multiply = (a, b) => fraction(a.above * b.above, a.below * b.below);
const divide = (a, b) => fraction(a.above * b.below, a.below * b.above);
const compare = (a, b) => {
  const far = a.above * b.below - b.above * a.below;
  return far < 0n ? -1 : far > 0n ? 1 : 0;
};
const absolute = (a) => (a.above < 0n ? minus(a) : a);
const floor = ({ above, below }) => (above >= 0n || above % below === 0n ? above / below : above / below - 1n);
const cut = ({ above, below }) => above / below;
/** Half away from zero. */
const nearest = (a) => {
  const far = (2n * absolute(a).above + a.below) / (2n * a.below);
  return a.above < 0n ? -far : far;
};
const power = (a, exponent) =>
  exponent >= 0
    ? fraction(a.above ** BigInt(exponent), a.below ** BigInt(exponent))
    : fraction(a.below ** BigInt(-exponent), a.above ** BigInt(-exponent));
const whole = (value) => fraction(BigInt(value));

/** As digits: all of them where they end, else 34 that count. */
const written = (a, digits = 34) => {
  const negative = a.above < 0n;
  const { above, below } = absolute(a);
  let rest = below;
  while (rest % 2n === 0n) rest /= 2n;
  while (rest % 5n === 0n) rest /= 5n;
  let scale = 0;
  if (rest === 1n) while ((above * 10n ** BigInt(scale)) % below !== 0n) scale++;
  else {
    const magnitude = String(above).length - String(below).length;
    scale = digits - magnitude;
    const first = nearest(fraction(above * 10n ** BigInt(scale), below));
    scale += digits - String(first).length;
  }
  const all = nearest(
    scale >= 0 ? fraction(above * 10n ** BigInt(scale), below) : fraction(above, below * 10n ** BigInt(-scale)),
  );
  const text = String(all).padStart(scale + 1, '0');
  const shown =
    scale > 0 ? `${text.slice(0, -scale)}.${text.slice(-scale)}`.replace(/\.?0+$/, '') : text + '0'.repeat(-scale);
  return `${negative && shown !== '0' ? '-' : ''}${shown}`;
};

const number = (most = 1_000_000, decimals = 4) => {
  const places = random(decimals + 1);
  const digits = between(-most, most);
  const text = String(Math.abs(digits)).padStart(places + 1, '0');
  const shown = places > 0 ? `${text.slice(0, -places)}.${text.slice(-places)}` : text;
  return `${digits < 0 ? '-' : ''}${shown}`;
};
const positive = (most, decimals) =>
  number(most, decimals)
    .replace('-', '')
    .replace(/^0*(?:\.0*)?$/, '7');
/** Behind an operator a negative number stands in brackets. */
const within = (text) => (text.startsWith('-') ? `(${text})` : text);

const lines = [];
const family = (name, source) => lines.push(`## ${name} | ${source}`);
const seen = new Set();
const say = (formula, result) => {
  if (seen.has(formula)) return;
  seen.add(formula);
  lines.push(`${formula}\t${result}`);
};
const truth = (value) => (value ? 'TRUE' : 'FALSE');

family('Sums and products', 'exact arithmetic');
for (const operator of ['+', '-', '*'])
  for (let i = 0; i < 60; i++) {
    const [a, b] = [number(10 ** between(1, 9)), number(10 ** between(1, 9))];
    const work = { '+': add, '-': subtract, '*': multiply }[operator];
    say(`${a}${operator}${within(b)}`, written(work(read(a), read(b))));
  }
for (let i = 0; i < 60; i++) {
  const [a, b, c] = [number(9999, 2), number(9999, 2), number(999, 2)];
  say(`(${a}+${within(b)})*${within(c)}`, written(multiply(add(read(a), read(b)), read(c))));
  say(`${a}-${within(b)}*${within(c)}`, written(subtract(read(a), multiply(read(b), read(c)))));
  say(`${within(a)}%`, written(divide(read(a), whole(100))));
}

family('Divisions', 'exact arithmetic, 34 digits');
for (let i = 0; i < 160; i++) {
  const [a, b] = [number(10 ** between(1, 9)), positive(10 ** between(1, 7))];
  say(`${a}/${b}`, written(divide(read(a), read(b))));
}
for (let i = 1; i <= 30; i++) {
  say(`1/${i}*${i}=1`, 'TRUE');
  say(`${i}/7+${i}/7+${i}/7=3*${i}/7`, 'TRUE');
}

family('Powers', 'exact arithmetic');
for (let i = 0; i < 90; i++) {
  const [base, exponent] = [number(300, 2), between(0, 12)];
  if (read(base).above === 0n) continue;
  say(`${within(base)}^${exponent}`, written(power(read(base), exponent)));
  say(`POWER(${base};${exponent})`, written(power(read(base), exponent)));
}
for (let i = 1; i <= 20; i++) {
  say(`2^${i * 5}`, written(power(whole(2), i * 5)));
  say(`10^-${i}`, written(power(whole(10), -i)));
  say(`SQRT(${i * i * 49})`, String(i * 7));
}

family('Rounding', 'OpenFormula 1.3, section 6.17; exact arithmetic');
for (let i = 0; i < 130; i++) {
  const [value, digits] = [number(10 ** between(2, 7), 6), between(-3, 5)];
  const unit = power(whole(10), digits);
  const scaled = multiply(read(value), unit);
  const back = (count) => written(divide(whole(count), unit));
  const away = (a) => (a.above % a.below === 0n ? cut(a) : cut(a) + (a.above < 0n ? -1n : 1n));
  say(`ROUND(${value};${digits})`, back(nearest(scaled)));
  say(`ROUNDUP(${value};${digits})`, back(away(scaled)));
  say(`ROUNDDOWN(${value};${digits})`, back(cut(scaled)));
  if (i % 2 === 0) say(`TRUNC(${value};${digits})`, back(cut(scaled)));
  say(`INT(${value})`, String(floor(read(value))));
}

family('Remainders', 'OpenFormula 1.3, section 6.16; exact arithmetic');
for (let i = 0; i < 90; i++) {
  const [a, b] = [number(10 ** between(2, 7), 3), pick([1, -1]) > 0 ? positive(999, 2) : `-${positive(999, 2)}`];
  const quotient = divide(read(a), read(b));
  say(`MOD(${a};${b})`, written(subtract(read(a), multiply(read(b), whole(floor(quotient))))));
  say(`QUOTIENT(${a};${b})`, String(cut(quotient)));
}
for (let i = 0; i < 60; i++) {
  const [a, b] = [BigInt(between(1, 99_999)), BigInt(between(1, 9999))];
  say(`GCD(${a};${b})`, String(gcd(a, b)));
  say(`LCM(${a};${b})`, String((a * b) / gcd(a, b)));
}
for (let i = 0; i < 40; i++) {
  const value = number(9999, 2);
  const far = absolute(read(value));
  const up = far.above % far.below === 0n ? cut(far) : cut(far) + 1n;
  const sign = read(value).above < 0n ? -1n : 1n;
  say(`EVEN(${value})`, String(sign * (up % 2n === 0n ? up : up + 1n)));
  say(`ODD(${value})`, String(sign * (up % 2n === 1n ? up : up + 1n)));
  say(`ISEVEN(${value})`, truth(cut(far) % 2n === 0n));
  say(`ISODD(${value})`, truth(cut(far) % 2n === 1n));
}

family('Multiples', 'OpenFormula 1.3, section 6.17; exact arithmetic');
for (let i = 0; i < 60; i++) {
  const [value, step] = [positive(99_999, 2), positive(500, 2)];
  const steps = divide(read(value), read(step));
  const of = (count) => written(multiply(whole(count), read(step)));
  const up = steps.above % steps.below === 0n ? floor(steps) : floor(steps) + 1n;
  say(`CEILING(${value};${step})`, of(up));
  say(`FLOOR(${value};${step})`, of(floor(steps)));
  say(`MROUND(${value};${step})`, of(nearest(steps)));
  say(`CEILING(-${value};-${step};1)`, of(-up));
  say(`FLOOR(-${value};-${step};1)`, of(-floor(steps)));
}

family('Comparisons', 'exact arithmetic');
for (let i = 0; i < 40; i++) {
  const [a, b] = [number(50, 1), number(50, 1)];
  const order = compare(read(a), read(b));
  const holds = {
    '=': order === 0,
    '<>': order !== 0,
    '<': order < 0,
    '>': order > 0,
    '<=': order <= 0,
    '>=': order >= 0,
  };
  for (const [operator, result] of Object.entries(holds)) if (random(3) > 0) say(`${a}${operator}${b}`, truth(result));
}

family('Counting', 'exact arithmetic');
const factorial = (n) => times(n, (i) => BigInt(i + 1)).reduce((a, b) => a * b, 1n);
for (let n = 0; n <= 25; n++) say(`FACT(${n})`, String(factorial(n)));
for (let i = 0; i < 50; i++) {
  const n = between(1, 40);
  const k = random(n + 1);
  say(`COMBIN(${n};${k})`, String(factorial(n) / (factorial(k) * factorial(n - k))));
  say(`PERMUT(${n};${k})`, String(factorial(n) / factorial(n - k)));
}

family('Lists', 'OpenFormula 1.3, section 6.18; exact arithmetic');
for (let i = 0; i < 50; i++) {
  const values = times(between(3, 8), () => number(9999, 2));
  const all = values.map(read);
  const list = `{${values.join(';')}}`;
  const sum = all.reduce(add);
  const squares = all.map((one) => multiply(one, one)).reduce(add);
  const count = whole(values.length);
  const spread = subtract(squares, divide(multiply(sum, sum), count));
  const sorted = [...all].sort(compare);
  const middle = divide(add(sorted[(all.length - 1) >> 1], sorted[all.length >> 1]), whole(2));
  say(`SUM(${list})`, written(sum));
  say(`AVERAGE(${list})`, written(divide(sum, count)));
  say(`SUMSQ(${list})`, written(squares));
  say(`DEVSQ(${list})`, written(spread));
  say(`VARP(${list})`, written(divide(spread, count)));
  say(`VAR(${list})`, written(divide(spread, subtract(count, whole(1)))));
  say(`MIN(${list})`, written(sorted[0]));
  say(`MAX(${list})`, written(sorted.at(-1)));
  say(`MEDIAN(${list})`, written(middle));
  say(`LARGE(${list};2)`, written(sorted.at(-2)));
  say(`SMALL(${list};2)`, written(sorted[1]));
}

// The calendar, a day at a time from 1900-03-01, a Thursday.
const isLeap = (year) => year % 4 === 0 && (year % 100 !== 0 || year % 400 === 0);
const lengthOf = (year, month) => (month === 2 ? (isLeap(year) ? 29 : 28) : [4, 6, 9, 11].includes(month) ? 30 : 31);
const days = [];
for (let year = 1900, month = 3, day = 1, weekday = 4; year < 2100; weekday = (weekday % 7) + 1) {
  days.push({ year, month, day, weekday });
  if (++day > lengthOf(year, month)) {
    day = 1;
    if (++month > 12) {
      month = 1;
      year++;
    }
  }
}
const two = (part) => String(part).padStart(2, '0');
const shown = ({ year, month, day }) => `${year}-${two(month)}-${two(day)}`;
const call = ({ year, month, day }) => `DATE(${year};${month};${day})`;
const at = new Map(days.map((one, i) => [shown(one), i]));
const monthsOn = ({ year, month, day }, months) => {
  const index = year * 12 + month - 1 + months;
  const [y, m] = [Math.floor(index / 12), (index % 12) + 1];
  return { year: y, month: m, day: Math.min(day, lengthOf(y, m)) };
};

family('Dates', 'OpenFormula 1.3, section 6.10; the calendar');
const near = () => days[between(3000, days.length - 3000)];
for (let i = 0; i < 60; i++) {
  const one = near();
  const other = near();
  const [a, b] = [at.get(shown(one)), at.get(shown(other))];
  const months = between(-40, 40);
  say(`DAYS(${call(one)};${call(other)})`, String(a - b));
  say(`${call(one)}-${call(other)}`, String(a - b));
  say(`${call(one)}+${months * 9}`, shown(days[a + months * 9]));
  say(`EDATE(${call(one)};${months})`, shown(monthsOn(one, months)));
  const end = monthsOn({ ...one, day: 1 }, months);
  say(`EOMONTH(${call(one)};${months})`, shown({ ...end, day: lengthOf(end.year, end.month) }));
  say(`WEEKDAY(${call(one)})`, String((one.weekday % 7) + 1));
  say(`WEEKDAY(${call(one)};2)`, String(one.weekday));
  say(`WEEKDAY(${call(one)};3)`, String(one.weekday - 1));
  const first = between(1, 7);
  say(`WEEKDAY(${call(one)};${10 + first})`, String(((one.weekday - first + 7) % 7) + 1));
  // Week 1 holds the first Thursday.
  const thursday = days[a + 4 - one.weekday];
  const start = at.get(`${thursday.year}-01-01`);
  say(`ISOWEEKNUM(${call(one)})`, String(Math.floor((a + 4 - one.weekday - start) / 7) + 1));
  const january = at.get(`${one.year}-01-01`);
  let week = 1;
  for (let j = january + 1; j <= a; j++) if (days[j].weekday === 7) week++;
  say(`WEEKNUM(${call(one)})`, String(week));
  week = 1;
  for (let j = january + 1; j <= a; j++) if (days[j].weekday === 1) week++;
  say(`WEEKNUM(${call(one)};2)`, String(week));
  const [early, late] = a < b ? [one, other] : [other, one];
  let whole = 0;
  while (
    shown(monthsOn(early, whole + 1)) <= shown(late) &&
    !(monthsOn(early, whole + 1).day < early.day && shown(monthsOn(early, whole + 1)) === shown(late))
  )
    whole++;
  say(`DATEDIF(${call(early)};${call(late)};"m")`, String(whole));
  say(`DATEDIF(${call(early)};${call(late)};"y")`, String(Math.floor(whole / 12)));
  say(`DATEDIF(${call(early)};${call(late)};"ym")`, String(whole % 12));
  say(`DATEDIF(${call(early)};${call(late)};"d")`, String(Math.abs(a - b)));
  const far = Math.min(late === one ? a : b, (late === one ? b : a) + 60);
  let work = 0;
  const begin = Math.min(a, b);
  for (let j = begin; j <= far; j++) if (days[j].weekday < 6) work++;
  say(`NETWORKDAYS(${call(days[begin])};${call(days[far])})`, String(work));
  const later = between(1, 20);
  const run = monthsOn({ ...one, day: 1 }, later);
  say(`DATE(${one.year};${one.month + later};${one.day})`, shown(days[at.get(shown(run)) + one.day - 1]));
}

family('Texts', 'OpenFormula 1.3, section 6.20; lists of signs');
const WORDS = [
  'Encosta',
  'Pedra Longa',
  'água',
  'Lago Frio',
  'Brecha',
  'half board',
  'firewood',
  'Ínsua',
  'a',
  'Serra da Neve',
];
for (let i = 0; i < 60; i++) {
  const [text, other] = [pick(WORDS), pick(WORDS)];
  const signs = Array.from(text);
  const [from, count] = [between(1, signs.length + 1), random(signs.length + 2)];
  say(`LEFT("${text}";${count})`, `"${signs.slice(0, count).join('')}"`);
  say(`RIGHT("${text}";${count})`, `"${signs.slice(Math.max(0, signs.length - count)).join('')}"`);
  say(`MID("${text}";${from};${count})`, `"${signs.slice(from - 1, from - 1 + count).join('')}"`);
  say(
    `REPLACE("${text}";${from};${count};"${other}")`,
    `"${[...signs.slice(0, from - 1), other, ...signs.slice(from - 1 + count)].join('')}"`,
  );
  const often = between(0, 4);
  say(`REPT("${text}";${often})`, `"${text.repeat(often)}"`);
  say(`LEN("${text}"&"${other}")`, String(signs.length + Array.from(other).length));
  const sign = pick(signs);
  say(`SUBSTITUTE("${text}";"${sign}";"${other}")`, `"${text.split(sign).join(other)}"`);
  say(`FIND("${sign}";"${text}")`, String(signs.indexOf(sign) + 1));
  say(`EXACT("${text}";"${other}")`, truth(text === other));
}

/** The table as it is kept. */
export const table = ['# Made by exact-cases.test-support.mjs: a formula, a tab, and its result.', ...lines, ''].join(
  '\n',
);

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  writeFileSync(new URL('exact.tsv', import.meta.url), table);
  console.log(`${seen.size} cases`);
}
