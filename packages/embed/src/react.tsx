import type { FrameEvents, HostValues, Part } from '@gaveta/core/embedding';
import {
  type CSSProperties,
  createElement,
  type ForwardedRef,
  forwardRef,
  type ReactNode,
  useCallback,
  useEffect,
  useImperativeHandle,
  useRef,
} from 'react';
import { defineElements, type GavetaElements } from './define.ts';
import type { GavetaAction } from './element.ts';

export interface EmbedProps {
  /** Gaveta’s address, as `https://reports.example/`. */
  server: string;
  report?: string;
  /** Gives a fresh token from the host's server. */
  fetchToken: () => Promise<string>;
  /** Values by parameter name. */
  parameters?: HostValues;
  /** Of the interface: `en` or `pt-PT`; otherwise what the reader's browser prefers. */
  language?: string;
  /** Parts that are left out. */
  hide?: readonly Part[];
  /** `auto`: as high as what it shows. */
  height?: 'auto';
  actions?: readonly GavetaAction[];
  words?: Readonly<Record<string, string>>;
  className?: string;
  style?: CSSProperties;
  children?: ReactNode;
  onOpened?: (detail: FrameEvents['opened']) => void;
  onRunStarted?: (detail: FrameEvents['run-started']) => void;
  onRunEnded?: (detail: FrameEvents['run-ended']) => void;
  onPageCount?: (detail: FrameEvents['page-count']) => void;
  onPageShown?: (detail: FrameEvents['page-shown']) => void;
  onParametersChanged?: (detail: FrameEvents['parameters-changed']) => void;
  onExported?: (detail: FrameEvents['exported']) => void;
  onPrinted?: (detail: FrameEvents['printed']) => void;
  onSaved?: (detail: FrameEvents['saved']) => void;
  onUnsaved?: (detail: FrameEvents['unsaved']) => void;
  onConnection?: (detail: FrameEvents['connection']) => void;
  onAction?: (detail: FrameEvents['action']) => void;
  onError?: (detail: FrameEvents['error']) => void;
}

const EVENTS = {
  opened: 'onOpened',
  'run-started': 'onRunStarted',
  'run-ended': 'onRunEnded',
  'page-count': 'onPageCount',
  'page-shown': 'onPageShown',
  'parameters-changed': 'onParametersChanged',
  exported: 'onExported',
  printed: 'onPrinted',
  saved: 'onSaved',
  unsaved: 'onUnsaved',
  connection: 'onConnection',
  action: 'onAction',
  error: 'onError',
} as const satisfies Record<keyof FrameEvents, keyof EmbedProps>;

const wrap = <T extends keyof GavetaElements>(tag: T) => {
  const Wrapped = (props: EmbedProps, ref: ForwardedRef<GavetaElements[T]>) => {
    const element = useRef<GavetaElements[T] | null>(null);
    const latest = useRef(props);
    latest.current = props;
    useImperativeHandle(ref, () => element.current!, []);
    /** What may not be missing when the element begins is set as soon as it is there. */
    const placed = useCallback((made: GavetaElements[T] | null) => {
      element.current = made;
      if (!made) return;
      made.fetchToken = () => latest.current.fetchToken();
      defineElements();
    }, []);
    useEffect(() => {
      const { current } = element;
      if (!current) return;
      const ended = new AbortController();
      for (const [kind, prop] of Object.entries(EVENTS) as [keyof FrameEvents, keyof EmbedProps][]) {
        const hear = (event: Event): void => {
          const listener = latest.current[prop] as ((detail: unknown) => void) | undefined;
          if (event.target === current) listener?.((event as CustomEvent<unknown>).detail);
        };
        current.addEventListener(kind, hear, { signal: ended.signal });
      }
      return () => ended.abort();
    }, []);
    const { server, report, parameters, language, hide, height, actions, words, className, style, children } = props;
    useEffect(() => {
      if (element.current) element.current.actions = actions ?? [];
    }, [actions]);
    useEffect(() => {
      if (element.current && words) element.current.words = words;
    }, [words]);
    return createElement(
      tag,
      {
        ref: placed,
        server,
        report,
        class: className,
        style,
        language,
        hide: hide?.join(' '),
        height,
        parameters: parameters && JSON.stringify(parameters),
      },
      children,
    );
  };
  Wrapped.displayName = tag;
  return forwardRef<GavetaElements[T], EmbedProps>(Wrapped);
};

/** `<gaveta-viewer>` for React; its `ref` has the element’s methods. */
export const Viewer = wrap('gaveta-viewer');
/** `<gaveta-designer>` for React. */
export const Designer = wrap('gaveta-designer');
/** `<gaveta-library>` for React. */
export const Library = wrap('gaveta-library');
/** `<gaveta-export-button>` for React. */
export const ExportButton = wrap('gaveta-export-button');
