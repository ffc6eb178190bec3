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
  /** Id of the report. */
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
  /** Buttons of the host’s own. */
  actions?: readonly GavetaAction[];
  /** Words of the interface by key, in place of its own. */
  words?: Readonly<Record<string, string>>;
  /** As of any element. */
  className?: string;
  /** As of any element. */
  style?: CSSProperties;
  /** The label of an export button. */
  children?: ReactNode;
  /** The event `opened`. */
  onOpened?: (detail: FrameEvents['opened']) => void;
  /** The event `run-started`. */
  onRunStarted?: (detail: FrameEvents['run-started']) => void;
  /** The event `run-ended`. */
  onRunEnded?: (detail: FrameEvents['run-ended']) => void;
  /** The event `page-count`. */
  onPageCount?: (detail: FrameEvents['page-count']) => void;
  /** The event `page-shown`. */
  onPageShown?: (detail: FrameEvents['page-shown']) => void;
  /** The event `parameters-changed`. */
  onParametersChanged?: (detail: FrameEvents['parameters-changed']) => void;
  /** The event `exported`. */
  onExported?: (detail: FrameEvents['exported']) => void;
  /** The event `printed`. */
  onPrinted?: (detail: FrameEvents['printed']) => void;
  /** The event `saved`. */
  onSaved?: (detail: FrameEvents['saved']) => void;
  /** The event `unsaved`. */
  onUnsaved?: (detail: FrameEvents['unsaved']) => void;
  /** The event `connection`. */
  onConnection?: (detail: FrameEvents['connection']) => void;
  /** The event `action`. */
  onAction?: (detail: FrameEvents['action']) => void;
  /** The event `error`. */
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
