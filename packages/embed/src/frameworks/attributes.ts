import type { Part } from '@gaveta/core/embedding';

/** Attributes of the elements, as templates of frameworks give them. */
export interface GavetaAttributes {
  /** Gaveta’s address; where the script came from when left out. */
  server?: string | undefined;
  /** Id of the report. */
  report?: string | undefined;
  /** Address of the host that answers `{ "token": … }`. */
  'token-url'?: string | undefined;
  /** Values by parameter name, as JSON. */
  parameters?: string | undefined;
  /** Of the interface, `en` or `pt-PT`; what the reader chose, or their browser prefers, when left out. */
  language?: string | undefined;
  /** Parts to leave out, with spaces between them. */
  hide?: Part | (string & {}) | undefined;
  /** `auto`: as high as what it shows. */
  height?: 'auto' | undefined;
  /** Address of a file with words of the interface. */
  words?: string | undefined;
  /** Output that `<gaveta-export-button>` makes; `pdf` when left out. */
  format?: string | undefined;
  /** As of any element. */
  id?: string | undefined;
  /** As of any element. */
  class?: string | undefined;
  /** As of any element. */
  slot?: string | undefined;
}
