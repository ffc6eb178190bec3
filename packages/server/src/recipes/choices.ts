import type { Parameter, Report, Step } from '@gaveta/core/internal';

/** The choices of a parameter as a recipe: its rows, kept to what was searched for, each value once, by its words. */
export const choiceSteps = (report: Report, { choicesFrom }: Parameter, search: string): Step[] => {
  const { rows, value, label = value, where } = choicesFrom!;
  const isQuery = (report.queries ?? []).some((q) => q.name === rows);
  return [
    { step: 'take', from: isQuery ? { query: rows } : { model: report.model ?? '', entity: rows } },
    ...(where ? [{ step: 'keep' as const, where: { formula: where } }] : []),
    { step: 'add', name: 'choice_value', formula: value },
    { step: 'add', name: 'choice_label', formula: label },
    { step: 'keep', where: { field: 'choice_value', is: 'notBlank' } },
    ...(search === ''
      ? []
      : [{ step: 'keep' as const, where: { field: 'choice_label', is: 'contains' as const, to: { value: search } } }]),
    { step: 'summarise', by: [{ field: 'choice_value' }, { field: 'choice_label' }], totals: [] },
    { step: 'sort', by: [{ field: 'choice_label' }] },
  ];
};
