import {
  applyEdit,
  bandKey,
  dropFields,
  type Entity,
  type Model,
  type Placeable,
  type PlanContext,
  planReport,
  type Report,
} from '@gaveta/core/internal';
import { problemWords } from '../../i18n/words.ts';
import type { BoardPoint } from './surfaces.ts';

interface Around {
  model: Model | null;
  entities: ReadonlyMap<string, Entity>;
  plan: PlanContext;
}

/**
 * Tells why fields that hang over a band cannot be let go there; null where they can. `cannot`: what is said where nothing is known
 * but that. Each band is looked at once.
 */
export const refusals = (report: Report, fields: readonly Placeable[], { plan, ...around }: Around, cannot: string) => {
  const known = new Map<string, string | null>();
  const look = (point: BoardPoint): string | null => {
    const dropped = dropFields(report, fields, point, around);
    if (!dropped) return cannot;
    const { problems } = planReport(applyEdit(report, dropped.edit), plan);
    const wrong = problems.find(
      ({ place, severity }) => severity === 'error' && dropped.items.includes(place.item ?? ''),
    );
    return wrong ? problemWords(wrong) : null;
  };
  return (point: BoardPoint): string | null => {
    const key = bandKey(point.address);
    const found = known.get(key) ?? (known.has(key) ? null : look(point));
    known.set(key, found);
    return found;
  };
};
