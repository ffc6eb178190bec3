import { Router } from 'express';
import { seededRandom } from './random.ts';

const SIZE = 40;
const LEVELS = ['low', 'moderate', 'considerable', 'high'];

/** A made-up service of the mountain rescue: bulletins in JSON, page by page, for those who send its key. */
export const bulletinService = (): Router => {
  const random = seededRandom(99);
  const bulletins = Array.from({ length: 182 }, (_, i) => ({
    id: i + 1,
    region: { number: (i % 4) + 1 },
    day: new Date(Date.UTC(2026, 3, 1 + Math.floor(i / 2))).toISOString().slice(0, 10),
    level: random.pick(LEVELS),
    fresh_snow_cm: random.whole(0, 40),
  }));
  const router = Router();
  router.get('/bulletins', (request, response) => {
    if (request.get('x-rescue-key') !== 'mountain') {
      response.status(401).json({ error: 'Send the key in X-Rescue-Key.' });
      return;
    }
    const page = Math.max(1, Number(request.query.page) || 1);
    const items = bulletins.slice((page - 1) * SIZE, page * SIZE);
    response.json({ page, pages: Math.ceil(bulletins.length / SIZE), bulletins: items });
  });
  return router;
};
