import { describe, expect, it } from 'vitest';
import type { Memory } from '../ui/memory.ts';
import { rememberedValues, rememberValues } from './remembered.ts';

const memory = (): Memory & { held: Map<string, string> } => {
  const held = new Map<string, string>();
  return {
    held,
    getItem: (key) => held.get(key) ?? null,
    setItem: (key, value) => void held.set(key, value),
    removeItem: (key) => void held.delete(key),
  };
};

describe('the values that a reader chose last', () => {
  it('are kept for each report by itself', () => {
    const kept = memory();
    rememberValues(kept, 'ledger', new URLSearchParams({ season: '2024', huts: 'Alminhas,Lago Frio' }));
    expect(rememberedValues(kept, 'ledger').get('huts')).toBe('Alminhas,Lago Frio');
    expect(rememberedValues(kept, 'folio').size).toBe(0);
  });
  it('are forgotten when everything is cleared', () => {
    const kept = memory();
    rememberValues(kept, 'ledger', new URLSearchParams({ season: '2024' }));
    rememberValues(kept, 'ledger', new URLSearchParams());
    expect(kept.held.size).toBe(0);
  });
  it('cost nothing when the store is full or closed', () => {
    const broken: Memory = {
      getItem: () => {
        throw new Error('closed');
      },
      setItem: () => {
        throw new Error('full');
      },
      removeItem: () => {
        throw new Error('closed');
      },
    };
    rememberValues(broken, 'x', new URLSearchParams({ a: '1' }));
    rememberValues(broken, 'x', new URLSearchParams());
    expect(rememberedValues(broken, 'x').size).toBe(0);
  });
});
