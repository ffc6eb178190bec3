import { joinHost, tellHost } from '../embed/frame.ts';

const SIZE = 'popup,width=1200,height=860';

/** Whether this is a window that a host opened for an element, apart from its page. */
export const isInOwnWindow = (): boolean => window.parent === window && window.opener !== null && joinHost() !== null;

/** Opens what is read in a window of its own: a host’s page does it, since tokens come from there. */
export const openOwnWindow = (): void => {
  if (window.parent === window) window.open(location.href, '_blank', SIZE);
  else tellHost({ kind: 'detach', address: location.href });
};
