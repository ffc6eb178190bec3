/** Frames that the box is waited for: the list follows what was just selected. */
const PATIENCE = 60;

/** Brings the cursor into the box of the selected item's formula, as soon as that is shown. */
export const focusFormula = (): void => {
  const look = (left: number): void => {
    const isLate = document.querySelector('[data-testid="trays"][aria-busy="true"]') !== null;
    const box = document.querySelector<HTMLElement>('[data-setting="formula"] .cm-content');
    if (box && !isLate) box.focus();
    else if (left > 0) requestAnimationFrame(() => look(left - 1));
  };
  look(PATIENCE);
};
