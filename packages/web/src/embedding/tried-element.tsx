import { FRAME_EVENTS, type FrameEvent } from '@gaveta/core/internal';
import { useEffect, useRef } from 'react';
import { api } from '../api/client.ts';
import { attributesOf, styleOf, type Trial } from './playground-code.ts';

/** Something that an element told. */
export interface Told {
  event: FrameEvent;
  detail: unknown;
  at: Date;
}

interface TriedElement extends HTMLElement {
  fetchToken: (() => Promise<string>) | null;
}

/** Has the browser fetch the elements once, as a host’s page does. */
const fetchElements = (): void => {
  const address = new URL('embed.js', document.baseURI).href;
  if (document.querySelector(`script[src="${address}"]`)) return;
  const script = document.createElement('script');
  script.type = 'module';
  script.src = address;
  document.head.append(script);
};

/** An element as a host’s page would have it, for the caller with some of their rights. */
export const TriedElement = ({ trial, onTold }: { trial: Trial; onTold: (told: Told) => void }) => {
  const place = useRef<HTMLDivElement>(null);
  const told = useRef(onTold);
  told.current = onTold;
  const { element: kind, report, rights } = trial;
  // Another kind, report or right begins anew; everything else is changed on the element that is there.
  const key = JSON.stringify([kind, report, rights]);
  useEffect(() => {
    fetchElements();
    const [of, , granted] = JSON.parse(key) as [string, unknown, Trial['rights']];
    const made = document.createElement(`gaveta-${of}`) as TriedElement;
    made.fetchToken = async () => (await api.embeddingToken([...granted])).token;
    if (of === 'export-button') made.textContent = 'PDF';
    const listen = (event: Event): void =>
      told.current({ event: event.type as FrameEvent, detail: (event as CustomEvent).detail, at: new Date() });
    for (const event of FRAME_EVENTS) made.addEventListener(event, listen);
    place.current!.replaceChildren(made);
    return () => made.remove();
  }, [key]);
  const attributes = JSON.stringify(attributesOf(trial));
  const style = JSON.stringify({ ...styleOf(trial), ...(styleOf(trial).height ? { height: '100%' } : {}) });
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new element takes them, too
  useEffect(() => {
    const made = place.current!.firstElementChild as HTMLElement;
    const wanted = JSON.parse(attributes) as Record<string, string>;
    for (const name of made.getAttributeNames()) if (!(name in wanted) && name !== 'style') made.removeAttribute(name);
    for (const [name, value] of Object.entries(wanted))
      if (made.getAttribute(name) !== value) made.setAttribute(name, value);
    made.style.cssText = '';
    for (const [name, value] of Object.entries(JSON.parse(style) as Record<string, string>))
      made.style.setProperty(name, value);
  }, [attributes, style, key]);
  return <div ref={place} className="h-full overflow-auto" />;
};
