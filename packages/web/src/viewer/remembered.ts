import { keep, type Memory, recall } from '../ui/memory.ts';

const keyOf = (report: string): string => `gaveta.parameters.${report}`;

/** The address's parameters that a reader chose last for a report; empty when there are none. */
export const rememberedValues = (memory: Memory, report: string): URLSearchParams =>
  new URLSearchParams(recall(memory, keyOf(report)) ?? '');

export const rememberValues = (memory: Memory, report: string, values: URLSearchParams): void =>
  keep(memory, keyOf(report), values.size === 0 ? null : values.toString());
