import { type EvaluationContext, FormulaError, type HostFunction } from '@gaveta/core/internal';
import { expect, it, vi } from 'vitest';
import { loadFunctions } from './load-functions.ts';

const DESCRIBED = { takes: [['value', 'text'] as const], gives: 'text' as const, help: '', example: '' };
const fact = (name: string, module: string | null): HostFunction => ({
  ...{ name, module, min: 1, max: 1, ...DESCRIBED },
  takes: [['value', 'text']],
});
const own = (name: string) => ({ default: { functions: { [name]: { ...DESCRIBED, run: () => name } } } });
const context = { report: { language: 'en', timeZone: 'UTC', runAt: '' } } as unknown as EvaluationContext;

it('functions with a module are worked out here, the others are known and worked out elsewhere', async () => {
  const asked: string[] = [];
  const table = await loadFunctions(
    [fact('BELT', '/functions/a.mjs'), fact('TIDE', '/functions/a.mjs'), fact('TWICE', null)],
    async (address) => {
      asked.push(address);
      return { default: { functions: { ...own('BELT').default.functions, ...own('TIDE').default.functions } } };
    },
  );
  expect(asked).toEqual(['/functions/a.mjs']);
  expect([table.BELT!.run(['x'], context), table.TIDE!.run(['x'], context)]).toEqual(['BELT', 'TIDE']);
  expect(table.TWICE!.run(['x'], context)).toMatchObject({ code: '#N/A' });
});

it('a module that cannot be loaded, or holds something else, takes nothing from the others', async () => {
  const told = vi.spyOn(console, 'error').mockImplementation(() => {});
  const table = await loadFunctions(
    [fact('BELT', '/gone.mjs'), fact('TIDE', '/wrong.mjs'), fact('WIND', '/empty.mjs'), fact('SNOW', '/good.mjs')],
    async (address) => {
      if (address === '/gone.mjs') throw new TypeError('Failed to fetch');
      if (address === '/wrong.mjs') return { default: { functions: { TIDE: { takes: 'nothing' } as never } } };
      return address === '/empty.mjs' ? {} : own('SNOW');
    },
  );
  for (const name of ['BELT', 'TIDE', 'WIND']) expect(table[name]!.run(['x'], context)).toBeInstanceOf(FormulaError);
  expect(table.SNOW!.run(['x'], context)).toBe('SNOW');
  expect(told.mock.calls.map(([words]) => words)).toEqual([
    'Functions of formulas could not be loaded from /gone.mjs.',
    'Functions of formulas could not be loaded from /wrong.mjs.',
  ]);
  told.mockRestore();
});
