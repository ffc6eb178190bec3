import type { Conversion } from '../planned.ts';
import type { StepRoom } from '../planning.ts';

const plan: StepRoom<'convert'>['plan'] = (step, planning) => {
  if (step.columns.length === 0) return planning.lacks('lacks-converted');
  const conversions = new Map<string, Conversion>();
  for (const { field: name, to, decimal = '.', dates = 'dmy' } of step.columns) {
    const field = planning.field(name);
    if (!field) return null;
    if (field.type === 'picture') return planning.wrong('recipe-picture-stays', { name: field.label });
    if (field.type !== to) conversions.set(name, { from: field.type, to, writing: { decimal, dates } });
  }
  const columns = planning.fields.map(({ name }) => conversions.get(name) ?? null);
  // What its values look like, and where they lead on to, was that of the other type.
  planning.fields = planning.fields.map((field) => {
    const to = conversions.get(field.name)?.to;
    return to ? { name: field.name, label: field.label, type: to, ...(field.hidden ? { hidden: true } : {}) } : field;
  });
  planning.relations = planning.relations.filter(({ on }) => on.every(({ here }) => !conversions.has(here)));
  if (planning.key !== null && conversions.has(planning.key)) planning.key = null;
  return { kind: 'convert', columns };
};

/** Columns of another type. */
export const convertStep: StepRoom<'convert'> = {
  plan,
  without: (step, gone) => {
    const columns = step.columns.filter(({ field }) => field !== gone);
    return columns.length > 0 && columns.length < step.columns.length ? { ...step, columns } : null;
  },
};
