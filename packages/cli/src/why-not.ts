import type { ApiFailure } from '@gaveta/client';

/** Why a server did not do what it was asked, for the end of a line. */
export const whyNot = ({ code, message }: ApiFailure): string =>
  code === 'network'
    ? 'nothing answers there'
    : code === 'no-token'
      ? 'it wants a token: give one with --token, or as GAVETA_TOKEN'
      : `it answered “${code}”: ${message}`;
