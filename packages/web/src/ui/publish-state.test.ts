import { describe, expect, it } from 'vitest';
import type { Thing } from '../api/library.ts';
import { publishState, seenBefore } from './publish-state.ts';

const thing = (more: Partial<Thing>): Thing =>
  ({ may: 'publish', published: 2, revision: 3, asked: null, publishing: 'by-hand', ...more }) as Thing;

describe('what can be done about what readers see', () => {
  it('is nothing but taking back where they see it already', () => {
    const state = publishState(thing({ published: 3 }), 3, 'Ana');
    expect(state).toMatchObject({ isSeen: true, mayPublish: false, mayAsk: false, mayTakeBack: true, newer: 0 });
  });

  it('is publishing for those who may, and asking for others', () => {
    expect(publishState(thing({}), 3, 'Ana')).toMatchObject({ mayPublish: true, mayAsk: false, newer: 1 });
    expect(publishState(thing({ may: 'change' }), 3, 'Ana')).toMatchObject({
      ...{ mayPublish: false, mayAsk: true, mayTakeBack: false },
    });
  });

  it('takes two people where it is so: who asked publishes nothing', () => {
    const asked = { revision: 3, by: 'Rui', note: '' };
    const twice = (by: string, more: Partial<Thing> = {}) =>
      publishState(thing({ publishing: 'two-people', ...more }), 3, by);
    expect(twice('Ana')).toMatchObject({ mayPublish: false, mayAsk: true });
    expect(twice('Ana', { asked })).toMatchObject({ mayPublish: true, mayEndQuestion: true, isOwnQuestion: false });
    expect(twice('Rui', { asked })).toMatchObject({ mayPublish: false, mayAsk: false, isOwnQuestion: true });
    // A question about an older revision is none about this one.
    expect(twice('Ana', { asked: { ...asked, revision: 2 } })).toMatchObject({ mayPublish: false, mayAsk: true });
  });

  it('takes nothing back where each save is published', () => {
    expect(publishState(thing({ publishing: 'each-save', published: 3 }), 3, 'Ana').mayTakeBack).toBe(false);
  });

  it('leads back to what they saw before', () => {
    expect(seenBefore([{ revision: 3 }, { revision: null }, { revision: 1 }], 3)).toBe(1);
    expect(seenBefore([{ revision: 3 }], 3)).toBeNull();
    expect(seenBefore([], null)).toBeNull();
  });
});
