/** Brings the cursor into the box of the selected item's formula. */
export const focusFormula = (): void =>
  document.querySelector<HTMLElement>('[data-setting="formula"] .cm-content, [data-setting="formula"]')?.focus();
