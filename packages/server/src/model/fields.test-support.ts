import type { FieldInput } from './define.ts';

/** Fields whose words do not matter to a test. */
export const number: FieldInput = { label: 'Number', type: 'number' };
export const text: FieldInput = { label: 'Text', type: 'text' };
