/** Where an element was opened, and how to close it. */
export interface OpenedAs {
  place: 'panel' | 'page' | 'window';
  close(): void;
}

interface Opening {
  words: { close: string };
  address: URL;
  /** Goes on in another window. */
  talkWith: (other: Window) => void;
  closed: () => void;
}

const PLACES = {
  panel: 'position:fixed;inset:4vh 4vw;width:auto;height:auto;max-width:none;max-height:none;border-radius:10px',
  page: 'position:fixed;inset:0;width:100vw;height:100vh;max-width:none;max-height:none;border-radius:0',
} as const;

/** Milliseconds between looks at whether a window was closed, which nothing tells. */
const LOOKING = 500;

/** Opens an element somewhere else than where it stands; it is not moved, so that what is in it goes on. */
export const openIn = (place: OpenedAs['place'], element: HTMLElement, opening: Opening): OpenedAs =>
  place === 'window' ? inWindow(element, opening) : overPage(place, element, opening);

const overPage = (place: 'panel' | 'page', element: HTMLElement, { words, closed }: Opening): OpenedAs => {
  const before = { style: element.getAttribute('style'), popover: element.getAttribute('popover') };
  const { activeElement } = document;
  const close = document.createElement('button');
  close.type = 'button';
  close.textContent = `✕ ${words.close}`;
  close.setAttribute('aria-label', words.close);
  close.style.cssText =
    'position:absolute;top:-14px;right:-10px;z-index:1;padding:4px 12px;border:1px solid #55605f;border-radius:16px;background:#1f2a2e;color:#f4efe2;font:13px system-ui,sans-serif;cursor:pointer';
  if (place === 'page') close.style.cssText += ';top:auto;bottom:10px;right:16px';
  element.popover = 'manual';
  element.style.cssText = `${PLACES[place]};display:block;padding:0;margin:0;border:0;overflow:visible;background:#fffdf8;box-shadow:0 0 0 100vmax #0b0f1099`;
  element.append(close);
  element.showPopover();
  const frame = element.querySelector('iframe');
  if (frame) frame.style.height = '100%';
  close.focus();
  let isOpen = true;
  const end = (): void => {
    if (!isOpen) return;
    isOpen = false;
    document.removeEventListener('keydown', onKey);
    close.remove();
    if (element.isConnected) element.hidePopover();
    element.removeAttribute('popover');
    if (before.popover !== null) element.setAttribute('popover', before.popover);
    element.setAttribute('style', before.style ?? '');
    if (activeElement instanceof HTMLElement) activeElement.focus();
    closed();
  };
  const onKey = (event: KeyboardEvent): void => {
    if (event.key === 'Escape') end();
  };
  document.addEventListener('keydown', onKey);
  close.addEventListener('click', end);
  return { place, close: end };
};

const inWindow = (element: HTMLElement, { address, talkWith, closed }: Opening): OpenedAs => {
  const other = window.open(address.href, '_blank', 'popup,width=1200,height=860');
  if (!other) throw new Error('The browser opened no window. Call openAs("window") when the reader presses something.');
  talkWith(other);
  let isOpen = true;
  const end = (): void => {
    if (!isOpen) return;
    isOpen = false;
    clearInterval(looking);
    window.removeEventListener('pagehide', leave);
    other.close();
    if (element.isConnected) closed();
  };
  const leave = (): void => other.close();
  // Without this page nobody gives it tokens.
  window.addEventListener('pagehide', leave);
  const looking = setInterval(() => {
    if (other.closed) end();
  }, LOOKING);
  return { place: 'window', close: end };
};
