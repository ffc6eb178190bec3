/** Of no weight, so that every rule of the page wins, and `hidden` hides. */
const AS_BLOCKS = ':where(:is(gaveta-viewer, gaveta-designer, gaveta-library):not([hidden])) { display: block }';

/** A document takes only sheets that were made in it. */
const sheets = new WeakMap<Document, CSSStyleSheet>();

const sheetOf = (page: Document): CSSStyleSheet => {
  const found = sheets.get(page);
  if (found) return found;
  const { CSSStyleSheet: Sheet = CSSStyleSheet } = page.defaultView ?? window;
  const made = new Sheet();
  made.replaceSync(AS_BLOCKS);
  sheets.set(page, made);
  return made;
};

/** Has elements stand as blocks in the page or shadow tree that one is in, where its own style does not say otherwise. */
export const showAsBlocks = (element: Element): void => {
  const root = element.getRootNode();
  if (!(root instanceof Document || root instanceof ShadowRoot)) return;
  // What is adopted needs no leave of a page's policy, which an element of style would.
  const sheet = sheetOf(element.ownerDocument);
  if (!root.adoptedStyleSheets.includes(sheet)) root.adoptedStyleSheets = [...root.adoptedStyleSheets, sheet];
};
