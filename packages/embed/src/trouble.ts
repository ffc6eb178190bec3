/** What keeps an element from showing anything, and what to do about it. */
export interface Trouble {
  code: 'no-server' | 'server-away' | 'host-refused' | 'no-token' | 'wrong-parameters';
  /** In English, for the developer of the host. */
  detail: string;
}

export const noServer: Trouble = {
  code: 'no-server',
  detail:
    'Gaveta’s address is not known. Set it with the attribute server="https://reports.example/", or load the elements from there: <script type="module" src="https://reports.example/embed.js"></script>.',
};

/** Why a frame does not answer: nothing is there, or it may not be shown in this page. */
export const whySilent = async (home: URL): Promise<Trouble> => {
  try {
    const response = await fetch(new URL('embed.js', home), { mode: 'cors', cache: 'no-store' });
    if (!response.ok) throw new Error();
  } catch {
    return {
      code: 'server-away',
      detail: `Gaveta does not answer at ${home.href}. Check that it runs there, its port, and the path that its router is mounted at.`,
    };
  }
  // Pages of files, or of a shell's own scheme, are let in by the scheme.
  const origin = /^https?:$/.test(location.protocol) ? location.origin : location.protocol;
  return {
    code: 'host-refused',
    detail: `Gaveta at ${home.href} is not shown in pages of ${origin}. Add it where Gaveta is started: createGaveta({ hosts: ['${origin}'] }). If it stands there already, this page’s own policy (frame-src) may forbid frames of ${home.origin}.`,
  };
};

/** The token in what an address of the host answered. Throws with what is wrong with it. */
export const tokenFrom = async (address: string): Promise<string> => {
  const response = await fetch(address, { credentials: 'same-origin' });
  if (!response.ok) throw new Error(`${address} answered ${response.status} instead of a token.`);
  const body: unknown = await response.json().catch(() => null);
  if (typeof body === 'object' && body !== null && 'token' in body && typeof body.token === 'string') return body.token;
  const names = typeof body === 'object' && body !== null ? Object.keys(body) : [];
  const found = names.length > 0 ? `{ ${names.map((name) => `"${name}": …`).join(', ')} }` : 'no JSON object';
  throw new Error(`${address} answered ${found}. It must answer { "token": "…" }, with what signToken made.`);
};
