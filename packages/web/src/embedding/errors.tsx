import { useQuery } from '@tanstack/react-query';
import { queries } from '../api/queries.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { Button, Notice } from '../ui/controls.tsx';
import { Failure } from '../ui/failure.tsx';

/** The last errors that went to the server’s log, most with the line that mends them. */
export const Errors = () => {
  const { t, i18n } = useTranslation();
  const embedding = useQuery(queries.embedding());
  if (embedding.error) return <Failure error={embedding.error} retry={() => void embedding.refetch()} />;
  if (!embedding.data) return <Notice>{t('app.loading')}</Notice>;
  const when = new Intl.DateTimeFormat(i18n.language, { dateStyle: 'short', timeStyle: 'medium' });
  const { errors } = embedding.data;
  return (
    <main className="mx-auto max-w-4xl px-6 py-6">
      <div className="mb-3 flex items-center gap-3">
        <p className="flex-1 text-ink-2">{t('embedding.errorsHelp')}</p>
        <Button onClick={() => void embedding.refetch()}>{t('embedding.refresh')}</Button>
      </div>
      {errors.length === 0 && <Notice>{t('embedding.noErrors')}</Notice>}
      <ul className="divide-y divide-rule-soft">
        {errors.map(({ at, said, times }) => (
          <li key={`${at} ${said}`} className="py-2.5">
            <p className="text-[12px] text-ink-3">
              {when.format(new Date(at))}
              {times > 1 && ` · ${t('embedding.times', { count: times })}`}
            </p>
            <p className="break-words whitespace-pre-wrap">{said}</p>
          </li>
        ))}
      </ul>
    </main>
  );
};
