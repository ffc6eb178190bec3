import { describe, expect, it } from 'vitest';
import { fileOfThing, thingFile } from './file-names.ts';
import { isRecipeFile, readFiled } from './library-files.ts';

describe('files of the library', () => {
  it('are called by the id and the kind of a thing, whatever its id', () => {
    for (const [id, kind] of [
      ['season-ledger', 'report'],
      ['a/b: “c”', 'sketch'],
      ['recipe:stays of 2025', 'recipe'],
      ['mark', 'picture'],
    ] as const)
      expect(fileOfThing(`Season/${thingFile(id, kind)}`)).toEqual({ id, kind });
    expect(thingFile('recipe:stays', 'recipe')).toBe('stays.recipe.json');
  });

  it('are no others', () => {
    for (const path of ['folder.json', 'notes.txt', 'tariffs.connection.json', '.report.json', 'x.report.json.bak'])
      expect(fileOfThing(path)).toBeNull();
    // Somebody wrote the name by hand.
    expect(fileOfThing('100%.report.json')).toEqual({ id: '100%', kind: 'report' });
  });

  it('are read as what their names say, with what is wrong', () => {
    expect(readFiled('report', { gaveta: 2, name: 'Huts' }).filed).toMatchObject({ name: 'Huts' });
    expect(readFiled('report', { gaveta: 2 })).toMatchObject({ filed: null, error: null });
    const recipe = { name: 'Huts', steps: [{ step: 'take', from: { model: 'm', entity: 'e' } }] };
    const { filed } = readFiled('recipe', recipe);
    expect(filed).toMatchObject({ ...recipe, parameters: [] });
    expect([isRecipeFile(filed!), isRecipeFile(readFiled('report', { gaveta: 2, name: 'r' }).filed!)]).toEqual([
      ...[true, false],
    ]);
    expect(readFiled('theme', { gavetaPicture: 1 })).toMatchObject({
      filed: null,
      error: { issues: expect.anything() },
    });
    expect(readFiled('sketch', {}).filed).toBeNull();
  });
});
