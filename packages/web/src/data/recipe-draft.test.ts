import type { Step } from '@gaveta/core/internal';
import { beforeEach, describe, expect, it } from 'vitest';
import type { RecipeDraft } from '../api/client.ts';
import { freeName, isChanged, movedStep, useDrafts, withNewStep, withoutStep, withStep } from './recipe-draft.ts';

const take: Step = { step: 'take', from: { model: 'm', entity: 'stay' } };
const first = (count: number): Step => ({ step: 'first', count });
const draft: RecipeDraft = { name: 'Stays', parameters: [], steps: [take, first(1), first(2)] };
const counts = (d: RecipeDraft): (number | null)[] => d.steps.map((s) => (s.step === 'first' ? s.count : null));

describe('the steps of a recipe', () => {
  it('are put after the chosen one, changed and taken out', () => {
    expect(counts(withNewStep(draft, first(9), 1))).toEqual([null, 1, 9, 2]);
    expect(counts(withStep(draft, 2, first(7)))).toEqual([null, 1, 7]);
    expect(counts(withoutStep(draft, 1))).toEqual([null, 2]);
  });
  it('change places, but for the first, which takes the rows', () => {
    expect(counts(movedStep(draft, 2, -1))).toEqual([null, 2, 1]);
    expect(movedStep(draft, 1, -1)).toBe(draft);
    expect(movedStep(draft, 2, 1)).toBe(draft);
    expect(movedStep(draft, 0, 1)).toBe(draft);
  });
  it('get names that are free and may stand in formulas', () => {
    expect(freeName('Paid nights!', [])).toBe('paid_nights');
    expect(freeName('Paid nights', ['paid_nights'])).toBe('paid_nights_2');
    expect(freeName('10 best', [])).toBe('value_10_best');
    expect(freeName('Época', [])).toBe('época');
  });
});

describe('a draft', () => {
  const { open, change, undo, redo, saved } = useDrafts.getState();
  const now = () => useDrafts.getState().drafts.a!;
  beforeEach(() => {
    useDrafts.setState({ drafts: {} });
    open('a', draft, 3);
  });
  it('is undone and done again, and counts as saved where it was', () => {
    change('a', withoutStep(draft, 2));
    expect(isChanged(now())).toBe(true);
    undo('a');
    expect(now().now).toBe(draft);
    expect(isChanged(now())).toBe(false);
    redo('a');
    expect(counts(now().now)).toEqual([null, 1]);
    saved('a', now().now, 4);
    expect(isChanged(now())).toBe(false);
    undo('a');
    expect(isChanged(now())).toBe(true);
  });
  it('is kept when its screen is opened again', () => {
    change('a', withoutStep(draft, 2));
    open('a', draft, 3);
    expect(now().now.steps).toHaveLength(2);
  });
});
