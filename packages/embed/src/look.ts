import { LOOK_TOKENS, type LookToken } from '@gaveta/core/embedding';

export type LookValues = Partial<Record<LookToken, string>>;

/** What the host’s style says for an element, by its custom properties `--gaveta-…`. */
export const lookOf = (element: Element): LookValues => {
  const style = getComputedStyle(element);
  const found: LookValues = {};
  for (const token of LOOK_TOKENS) {
    const value = style.getPropertyValue(`--gaveta-${token}`).trim();
    if (value !== '') found[token] = value;
  }
  return found;
};

/**
 * Tells when an element’s look may have changed: a class, style or theme attribute around it, a style sheet, or what the reader’s
 * system prefers. Gives what ends it.
 */
export const watchLook = (element: Element, changed: () => void): (() => void) => {
  let frame = 0;
  const soon = (): void => {
    cancelAnimationFrame(frame);
    frame = requestAnimationFrame(changed);
  };
  const observer = new MutationObserver(soon);
  for (let at: Element | null = element; at; at = at.parentElement) observer.observe(at, { attributes: true });
  observer.observe(document.head, { childList: true, subtree: true, characterData: true, attributes: true });
  const scheme = matchMedia('(prefers-color-scheme: dark)');
  scheme.addEventListener('change', soon);
  return () => {
    cancelAnimationFrame(frame);
    observer.disconnect();
    scheme.removeEventListener('change', soon);
  };
};
