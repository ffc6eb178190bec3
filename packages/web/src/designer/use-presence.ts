import { useQuery } from '@tanstack/react-query';
import { useEffect } from 'react';
import { api, type Presence } from '../api/client.ts';

/** This window, told apart from others of the same person. */
const WINDOW = Math.random().toString(36).slice(2);

/** Seconds between telling the server that the report is still open. */
const EVERY = 6;

/** Who else has the report open to change it, and its newest revision. */
export const usePresence = (id: string | null): Presence | null => {
  const { data } = useQuery({
    queryKey: ['presence', id],
    queryFn: () => api.presence(id!, WINDOW),
    enabled: id !== null,
    refetchInterval: EVERY * 1000,
    retry: false,
  });
  useEffect(() => {
    if (id === null) return;
    const leave = (): void => void api.presence(id, WINDOW, true).catch(() => undefined);
    window.addEventListener('pagehide', leave);
    return () => {
      window.removeEventListener('pagehide', leave);
      leave();
    };
  }, [id]);
  return data ?? null;
};
