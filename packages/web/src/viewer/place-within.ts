/** Where an element stands on what scrolls under it, in CSS pixels; null for one that is not in the document. */
export const placeWithin = (
  element: Element | null,
  scroller: HTMLElement | null,
): { left: number; top: number; width: number; height: number } | null => {
  if (!element?.isConnected || !scroller) return null;
  const { left, top, width, height } = element.getBoundingClientRect();
  const around = scroller.getBoundingClientRect();
  return {
    left: left - around.left + scroller.scrollLeft,
    top: top - around.top + scroller.scrollTop,
    width,
    height,
  };
};
