import { useEffect, useState } from 'react';

/** Windows as narrow as a phone: what stands beside pages elsewhere lies over them there. */
export const NARROW = '(max-width: 639px)';

export const useIsNarrow = (): boolean => {
  const [isNarrow, setNarrow] = useState(() => matchMedia(NARROW).matches);
  useEffect(() => {
    const query = matchMedia(NARROW);
    const told = (): void => setNarrow(query.matches);
    query.addEventListener('change', told);
    return () => query.removeEventListener('change', told);
  }, []);
  return isNarrow;
};
