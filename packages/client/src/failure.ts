/** A problem document (RFC 9457) that the server answered with, or what kept it from answering. */
export class ApiFailure extends Error {
  constructor(
    /** Of the answer; 0 where there was none. */
    readonly status: number,
    /** One of docs/errors.md; `network`: nothing answered; `refused`, `refused-size`: something in front of Gaveta did. */
    readonly code: string,
    readonly title: string,
    readonly detail: string,
    /** The whole document, with what the error has besides. */
    readonly document: Record<string, unknown>,
  ) {
    super(detail === '' ? code : detail);
    this.name = 'ApiFailure';
  }
}
