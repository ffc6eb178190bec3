import { createElement, useEffect, useRef } from 'react';
import { defineElements, type GavetaEvents, type GavetaViewer } from './element.ts';

export interface EmbedProps {
  report: string;
  /** Gives a fresh token from the host's server. */
  fetchToken: () => Promise<string>;
  /** Values by parameter name. */
  parameters?: Record<string, string | number | null>;
  /** Of the interface: `en` or `pt-PT`; otherwise what the reader's browser prefers. */
  language?: string;
  className?: string;
  onSaved?: (detail: GavetaEvents['saved']['detail']) => void;
  onPageCount?: (detail: GavetaEvents['page-count']['detail']) => void;
  onError?: (detail: GavetaEvents['error']['detail']) => void;
}

const wrap = (tag: 'gaveta-viewer' | 'gaveta-designer') => (props: EmbedProps) => {
  const element = useRef<GavetaViewer>(null);
  const latest = useRef(props);
  latest.current = props;
  useEffect(() => {
    const { current } = element;
    if (!current) return;
    current.fetchToken = () => latest.current.fetchToken();
    defineElements();
    const onSaved = (event: Event) => latest.current.onSaved?.((event as GavetaEvents['saved']).detail);
    const onPages = (event: Event) => latest.current.onPageCount?.((event as GavetaEvents['page-count']).detail);
    const onError = (event: Event) => latest.current.onError?.((event as GavetaEvents['error']).detail);
    current.addEventListener('saved', onSaved);
    current.addEventListener('page-count', onPages);
    current.addEventListener('error', onError);
    return () => {
      current.removeEventListener('saved', onSaved);
      current.removeEventListener('page-count', onPages);
      current.removeEventListener('error', onError);
    };
  }, []);
  const { report, parameters, language, className } = props;
  return createElement(tag, {
    ref: element,
    report,
    class: className,
    language,
    parameters: parameters && JSON.stringify(parameters),
  });
};

/** `<gaveta-viewer>` for React. */
export const Viewer = wrap('gaveta-viewer');
/** `<gaveta-designer>` for React. */
export const Designer = wrap('gaveta-designer');
