import type { Look, RunLook } from '@gaveta/core/internal';

/** What a named style of a report says of text. */
export const baseOf = (look: Look, normal: RunLook): RunLook => ({
  family: look.font ?? normal.family,
  size: look.size ?? normal.size,
  bold: look.bold ?? normal.bold,
  italic: look.italic ?? normal.italic,
  underline: look.underline ?? normal.underline,
  strike: look.strike ?? normal.strike,
  color: look.color ?? normal.color,
});
