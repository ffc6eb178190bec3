import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useSyncExternalStore } from 'react';
import { connection } from '../api/connection.ts';
import { useTranslation } from '../i18n/use-translation.ts';

const follow = (changed: () => void): (() => void) => connection.follow(changed);

/** Says while the server is not reached; once it is again, what could not be fetched is fetched. */
export const ConnectionNotice = () => {
  const { t } = useTranslation();
  const client = useQueryClient();
  const isOnline = useSyncExternalStore(follow, () => connection.isOnline);
  useEffect(
    () =>
      connection.follow((isBack) => {
        if (isBack) void client.refetchQueries({ predicate: (query) => query.state.status === 'error' });
      }),
    [client],
  );
  if (isOnline) return null;
  return (
    <div
      role="alert"
      className="fixed inset-x-0 top-0 z-50 mx-auto flex w-fit max-w-full items-center gap-3 rounded-b-md bg-bar px-4 py-1.5 text-bar-text"
    >
      {t('errors.lost')}
      <button type="button" className="underline" onClick={() => connection.tryNow()}>
        {t('errors.tryNow')}
      </button>
    </div>
  );
};
