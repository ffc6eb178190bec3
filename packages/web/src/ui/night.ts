const KEY = 'gaveta.night';

const remembered = (): string | null => {
  try {
    return localStorage.getItem(KEY);
  } catch {
    // A host's page may forbid it.
    return null;
  }
};

const apply = (night: boolean): void => {
  document.documentElement.dataset.look = night ? 'night' : 'light';
};

/** What a host’s page asks for, in the place of what was chosen here. */
let asked: 'dark' | 'light' | null = null;

export const applyScheme = (scheme: 'dark' | 'light' | null): void => {
  if (scheme === asked) return;
  asked = scheme;
  if (scheme === null) startLook();
  else apply(scheme === 'dark');
};

export const isNight = (): boolean => document.documentElement.dataset.look === 'night';

/** Puts the look on that was chosen last, or the one that the system has. */
export const startLook = (): void => {
  const chosen = remembered();
  apply(chosen === null ? matchMedia('(prefers-color-scheme: dark)').matches : chosen === 'night');
};

export const toggleNight = (): void => {
  const night = !isNight();
  apply(night);
  try {
    localStorage.setItem(KEY, night ? 'night' : 'light');
  } catch {
    // It holds for this window then.
  }
};
