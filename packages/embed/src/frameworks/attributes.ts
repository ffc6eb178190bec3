import type { Part } from '@gaveta/core/embedding';

/** Attributes of the elements, as templates of frameworks give them. */
export interface GavetaAttributes {
  server?: string | undefined;
  report?: string | undefined;
  'token-url'?: string | undefined;
  /** Values by parameter name, as JSON. */
  parameters?: string | undefined;
  language?: string | undefined;
  /** Parts to leave out, with spaces between them. */
  hide?: Part | (string & {}) | undefined;
  height?: 'auto' | undefined;
  /** Address of a file with words of the interface. */
  words?: string | undefined;
  /** Of `<gaveta-export-button>`. */
  format?: string | undefined;
  id?: string | undefined;
  class?: string | undefined;
  slot?: string | undefined;
}
