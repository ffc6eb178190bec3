let home: URL | null = null;

/** Says where Gaveta is: its script does, which comes from there. */
export const setHome = (address: string): void => {
  home = new URL('.', address);
};

/** Gaveta’s address, with a `/` at its end: the element’s own `server`, or where the script came from; null where neither is known. */
export const homeOf = (server: string | null): URL | null => {
  if (!server) return home;
  const whole = server.endsWith('/') ? server : `${server}/`;
  return URL.canParse(whole, document.baseURI) ? new URL(whole, document.baseURI) : null;
};
