import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { planReport, type Report, readDefinition } from '@gaveta/core';
import { describe, expect, it } from 'vitest';
import { cumeeiraModel, demoRecipes } from './index.ts';
import { radioModel } from './radio.ts';

/** Definitions as earlier versions of the format had them, by the version: they stay as they are. */
const OLD = fileURLToPath(new URL('../old-reports', import.meta.url));

describe.each(readdirSync(OLD))('definitions of version %s', (version) => {
  const folder = join(OLD, version);
  const reports = new Map(
    readdirSync(folder).map((file): [string, Report] => {
      const json: unknown = JSON.parse(readFileSync(join(folder, file), 'utf8'));
      expect(json).toHaveProperty('gaveta', Number(version));
      const read = readDefinition(json);
      if (!read.ok) throw new Error(`${file}: ${JSON.stringify(read.problems)}`);
      return [file.replace('.json', ''), read.report];
    }),
  );

  it.each(
    [...reports].filter(([id]) => id !== 'tariff-check'),
  )('%s is read, and nothing in it is lost', (_, report) => {
    const recipes = new Map(demoRecipes.map((recipe) => [recipe.id, recipe]));
    const { problems, roots } = planReport(report, {
      models: [cumeeiraModel.model, radioModel.model],
      report: (id) => reports.get(id) ?? null,
      recipe: (id) => recipes.get(id) ?? null,
    });
    expect(problems.filter((p) => p.severity === 'error')).toEqual([]);
    expect(roots).toHaveLength(1);
  });
});
