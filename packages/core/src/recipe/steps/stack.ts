import { columnPhrase, type StepRoom } from '../planning.ts';
import { shapeOf } from '../shape.ts';

const plan: StepRoom<'stack'>['plan'] = ({ from }, planning) => {
  const source = planning.source(from);
  if (!source) return null;
  const there = shapeOf(source);
  const columns: (string | null)[] = [];
  for (const field of planning.fields) {
    const other = there.fields.find((f) => f.name === field.name);
    // What is hidden there must not come to light under the name of something that can be seen here.
    if (other?.hidden && !field.hidden) return planning.wrong('hidden-field', { name: field.name });
    if (other && other.type !== field.type) {
      const data = { name: field.label, hereType: columnPhrase(field.type), thereType: columnPhrase(other.type) };
      return planning.wrong('recipe-stack-differs', data);
    }
    columns.push(other ? other.name : null);
  }
  planning.key = null;
  planning.isOrdered = false;
  return { kind: 'stack', source, columns };
};

/** Rows of another source below those that there are. */
export const stackStep: StepRoom<'stack'> = { plan, without: () => null };
