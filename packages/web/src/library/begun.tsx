import { useMutation } from '@tanstack/react-query';
import { Link } from 'react-router';
import { api, type DraftHead } from '../api/client.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { Button } from '../ui/controls.tsx';

/** Work that was never saved, each with its way back to it. */
export const Begun = ({ drafts, onForgotten }: { drafts: readonly DraftHead[]; onForgotten: () => void }) => {
  const { t, i18n } = useTranslation();
  const when = new Intl.DateTimeFormat(i18n.language, { dateStyle: 'medium', timeStyle: 'short' });
  const forget = useMutation({ mutationFn: (key: string) => api.removeDraft(key), onSuccess: onForgotten });
  if (drafts.length === 0) return null;
  return (
    <section aria-label={t('library.begun')} className="mb-3 rounded-md border border-brass bg-brass-soft/50 px-3 py-2">
      <h2 className="font-semibold">{t('library.begun')}</h2>
      <ul>
        {drafts.map((draft) => (
          <li key={draft.key} className="flex items-center gap-2 py-0.5">
            <Link
              to={draft.kind === 'sketch' ? `/sketches/new/${draft.key}` : `/new/${draft.key}`}
              className="min-w-0 flex-1 truncate hover:text-pine"
            >
              {draft.name}{' '}
              <span className="text-ink-3">{t('library.begunAt', { when: when.format(new Date(draft.savedAt)) })}</span>
            </Link>
            <Button
              look="quiet"
              onClick={() => forget.mutate(draft.key)}
              aria-label={t('library.drop', { name: draft.name })}
            >
              {t('library.dropIt')}
            </Button>
          </li>
        ))}
      </ul>
    </section>
  );
};
