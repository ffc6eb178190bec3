import { useEffect, useState } from 'react';

/** A value as it was once it had not changed for so many milliseconds, and how many there have been. */
export const useLater = <T>(value: T, milliseconds: number): { value: T; count: number } => {
  const [later, setLater] = useState({ value, count: 0 });
  useEffect(() => {
    const timer = setTimeout(() => setLater(({ count }) => ({ value, count: count + 1 })), milliseconds);
    return () => clearTimeout(timer);
  }, [value, milliseconds]);
  return later;
};
