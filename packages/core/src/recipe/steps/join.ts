import { writtenName, writtenText } from '../../formula/tokens.ts';
import type { StepRoom } from '../planning.ts';

const plan: StepRoom<'join'>['plan'] = (step, planning) => {
  const fields = planning.all(step.fields);
  if (!fields) return null;
  if (fields.length === 0) return planning.lacks('lacks-joined');
  const picture = fields.find(({ type }) => type === 'picture');
  if (picture) return planning.wrong('recipe-not-a-text', { name: picture.label });
  if (!planning.isFree(step.name)) return null;
  const names = step.fields.map(writtenName).join('; ');
  const formula = planning.formula(`TEXTJOIN(${writtenText(step.between)}; TRUE; ${names})`);
  if (!formula) return null;
  planning.fields = [...planning.fields, { name: step.name, label: step.label ?? step.name, type: 'text' }];
  return { kind: 'add', name: step.name, formula, totals: [], per: [] };
};

/** Values of several columns as one text. */
export const joinStep: StepRoom<'join'> = {
  plan,
  without: (step, gone) => {
    const fields = step.fields.filter((name) => name !== gone);
    return fields.length > 0 && fields.length < step.fields.length ? { ...step, fields } : null;
  },
};
