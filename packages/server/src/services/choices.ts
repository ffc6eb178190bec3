import { planChoices, RowProblem } from '@gaveta/core/internal';
import { ApiError } from '../base/api-error.ts';
import { RecipeDesk } from '../recipes/desk.ts';
import type { Calls } from './call.ts';
import { failureOf, failureWith, lookingOver, type RecipeParts } from './looking.ts';
import { definitionOf } from './stored-reports.ts';

/** Choices of parameters are at most so many. */
const MOST_CHOICES = 200;

/** What a parameter can be chosen from. */
export const choiceService = (parts: RecipeParts): Calls<'POST /choices'> => {
  const { rights, gate } = parts;
  const { contextFor, deskOptions } = lookingOver(parts);
  return {
    'POST /choices': async ({ caller, body: asked, signal }) => {
      if (asked.definition) {
        caller.needs('design');
        await rights.check(caller, asked.definition);
        await gate.checkNested(caller, asked.definition);
      }
      const report = asked.definition
        ? definitionOf(asked.definition)
        : (await gate.stored(caller, 'run', asked.report ?? '', 'published')).report;
      const parameter = report.parameters.find((p) => p.name === asked.parameter);
      if (!parameter?.choicesFrom)
        throw new ApiError('wrong-body', { detail: `“${asked.parameter}” has no choices from rows.` });
      const context = await contextFor(report.parameters, report.queries ?? []);
      const { search, among } = asked;
      const { recipe, problems } = planChoices(report, parameter, context, { search, among });
      if (problems[0]) return { choices: [], more: false, failure: failureWith(problems[0].problem) };
      try {
        const options = deskOptions(
          caller,
          { ...report, values: asked.values },
          signal,
          asked.definition ? 'design' : 'run',
        );
        const desk = await RecipeDesk.open([recipe], options);
        try {
          const { rows } = await desk.rows(recipe, MOST_CHOICES + 1);
          const choices = rows
            .slice(0, MOST_CHOICES)
            .map(([value, label]) => ({ value: String(value), label: String(label ?? value) }));
          return { choices, more: rows.length > MOST_CHOICES, failure: null };
        } finally {
          await desk.close();
        }
      } catch (error) {
        if (!(error instanceof RowProblem)) throw error;
        return { choices: [], more: false, failure: failureOf(error) };
      }
    },
  };
};
