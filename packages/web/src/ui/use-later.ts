import { useEffect, useState } from 'react';

/** A value as it was once it had not changed for so many milliseconds. */
export const useLater = <T>(value: T, milliseconds: number): T => {
  const [later, setLater] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setLater(value), milliseconds);
    return () => clearTimeout(timer);
  }, [value, milliseconds]);
  return later;
};
