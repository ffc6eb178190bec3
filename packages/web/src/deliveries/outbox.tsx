import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Mail, Paperclip } from 'lucide-react';
import { useState } from 'react';
import { deliveries, deliveryQueries } from '../api/deliveries.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { agreed } from '../ui/confirm.tsx';
import { Button, Notice } from '../ui/controls.tsx';
import { Failure } from '../ui/failure.tsx';
import { FileLink } from './file-link.tsx';

/** The mails that came to the outbox that stands in for a mail server. */
export const OutboxPage = () => {
  const { t, i18n } = useTranslation();
  const client = useQueryClient();
  const list = useQuery(deliveryQueries.outbox());
  const [chosen, setChosen] = useState<string | null>(null);
  const empty = useMutation({
    mutationFn: deliveries.emptyOutbox,
    onSuccess: () => client.invalidateQueries({ queryKey: ['outbox'] }),
  });
  if (list.error) return <Failure error={list.error} retry={() => void list.refetch()} />;
  if (!list.data) return <Notice>{t('app.loading')}</Notice>;
  const mails = list.data;
  if (mails.length === 0) return <Notice title={t('deliveries.outboxEmpty')}>{t('deliveries.outboxHelp')}</Notice>;
  const open = mails.find(({ id }) => id === chosen) ?? mails[0]!;
  const time = new Intl.DateTimeFormat(i18n.language, { dateStyle: 'short', timeStyle: 'short' });
  const askEmpty = async (): Promise<void> => {
    if (await agreed(t('deliveries.emptyHelp'), t('deliveries.empty'))) empty.mutate();
  };
  return (
    <div className="grid h-full min-h-0 grid-cols-[340px_minmax(0,1fr)] max-sm:grid-cols-1 max-sm:grid-rows-[40%_1fr]">
      <div className="flex min-h-0 flex-col border-e border-rule max-sm:border-b">
        <div className="flex items-center gap-2 border-b border-rule px-3 py-1.5">
          <span className="flex-1 text-ink-3">{t('deliveries.mails', { count: mails.length })}</span>
          <Button look="quiet" onClick={() => void askEmpty()}>
            {t('deliveries.empty')}
          </Button>
        </div>
        <ul aria-label={t('deliveries.tab_outbox')} className="min-h-0 flex-1 overflow-auto">
          {mails.map((mail) => (
            <li key={mail.id}>
              <button
                type="button"
                aria-current={mail.id === open.id ? 'true' : undefined}
                className={`w-full border-b border-rule-soft px-3 py-1.5 text-start ${mail.id === open.id ? 'bg-pine-soft' : 'hover:bg-desk/40'}`}
                onClick={() => setChosen(mail.id)}
              >
                <span className="flex items-center gap-2">
                  <span className="min-w-0 flex-1 truncate font-semibold">
                    {mail.subject || t('deliveries.noSubject')}
                  </span>
                  {mail.attachments.length > 0 && <Paperclip size={13} aria-hidden className="flex-none text-ink-3" />}
                  <span className="flex-none text-[12px] text-ink-3">{time.format(new Date(mail.at))}</span>
                </span>
                <span className="block truncate text-ink-2">{mail.to.join(', ')}</span>
              </button>
            </li>
          ))}
        </ul>
      </div>
      <OpenMail key={open.id} id={open.id} />
    </div>
  );
};

const OpenMail = ({ id }: { id: string }) => {
  const { t, i18n } = useTranslation();
  const found = useQuery(deliveryQueries.mail(id));
  if (found.error) return <Failure error={found.error} />;
  if (!found.data) return <Notice>{t('app.loading')}</Notice>;
  const { subject, from, to, at, words, attachments, messageId } = found.data;
  const time = new Intl.DateTimeFormat(i18n.language, { dateStyle: 'full', timeStyle: 'medium' });
  return (
    <article aria-label={subject} className="min-h-0 overflow-auto p-4">
      <h2 className="flex items-center gap-2 text-[16px] font-semibold">
        <Mail size={16} aria-hidden className="flex-none text-brass" /> {subject || t('deliveries.noSubject')}
      </h2>
      <dl className="my-2 grid grid-cols-[auto_1fr] gap-x-3 text-ink-2">
        <dt className="text-ink-3">{t('deliveries.mailFrom')}</dt>
        <dd className="break-words">{from}</dd>
        <dt className="text-ink-3">{t('deliveries.mailTo')}</dt>
        <dd className="break-words">{to.join(', ')}</dd>
        <dt className="text-ink-3">{t('deliveries.mailAt')}</dt>
        <dd>{time.format(new Date(at))}</dd>
      </dl>
      {attachments.length > 0 && (
        <ul
          aria-label={t('deliveries.attachments')}
          className="mb-3 flex flex-col gap-1 border-y border-rule-soft py-2"
        >
          {attachments.map((file) => (
            <li key={file.place}>
              <FileLink
                {...file}
                place={{ call: 'GET /outbox/:id/attachments/:place', params: { id, place: String(file.place) } }}
              />
            </li>
          ))}
        </ul>
      )}
      <p className="max-w-prose whitespace-pre-wrap">{words}</p>
      <p className="mt-6 text-[11.5px] break-all text-ink-3">{messageId}</p>
    </article>
  );
};
