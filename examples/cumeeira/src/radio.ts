import { defineModel, type RowsConnection, streamConnection } from '@gaveta/server';
import { seededRandom } from './random.ts';

const WORDS = [
  'All well.',
  'Fog since noon.',
  'Two guests late, expected by dark.',
  'Stove repaired.',
  'Path to the spring is iced.',
];
const CALLERS = ['Rute', 'Otto', 'Célia', 'Baltasar'];

/** What the office's own code knows and no table holds: the calls that huts made over the radio. */
export const radioModel = defineModel({
  name: 'radio',
  label: { en: 'Radio calls', pt: 'Chamadas de rádio' },
  connection: 'radio',
  entities: {
    call: {
      label: 'Call',
      plural: 'Calls',
      key: 'number',
      time: 'called_at',
      scope: (claims) => (claims.role === 'office' ? 'everything' : { keep: 'region_id = CLAIM("region")' }),
      fields: {
        number: { label: 'Number', type: 'number' },
        hut_id: { label: 'Hut number', type: 'number' },
        region_id: { label: 'Region number', type: 'number', hidden: true },
        called_at: { label: 'Called at', type: 'datetime', format: 'd mmm yyyy hh:mm' },
        caller: { label: 'Caller', type: 'text' },
        words: { label: 'Words', type: 'text' },
        minutes: { label: 'Minutes', type: 'number', format: '0.0' },
      },
    },
  },
});

/** Rows made while they are read: nothing is kept, and what is not asked for is not made. */
export const radioConnection = (): RowsConnection =>
  streamConnection({
    async *call({ signal }) {
      const random = seededRandom(417);
      for (let number = 1; number <= 300; number++) {
        signal.throwIfAborted();
        const hut = random.whole(1, 24);
        yield {
          number,
          hut_id: hut,
          region_id: ((hut - 1) % 4) + 1,
          called_at: new Date(Date.UTC(2026, 5, 1) + number * 8_640_000 + random.whole(0, 3_000_000)),
          caller: random.pick(CALLERS),
          words: random.pick(WORDS),
          minutes: (random.whole(5, 80) / 10).toFixed(1),
        };
      }
    },
  });
