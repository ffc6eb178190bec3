import { pageToSvg } from '@gaveta/core/internal';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Trash2 } from 'lucide-react';
import { useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { deliveries, deliveryQueries } from '../api/deliveries.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { agreed, Questions } from '../ui/confirm.tsx';
import { Button, IconButton, Notice } from '../ui/controls.tsx';
import { Failure } from '../ui/failure.tsx';
import { ScreenHeader } from '../ui/screen-header.tsx';
import { FileLink } from './file-link.tsx';
import { useKeptPages } from './use-kept-pages.ts';

/** Pages that are shown before more are asked for. */
const SHOWN = 20;

/** A result as it was: its pages, its files, and when it was made. */
export const KeptScreen = () => {
  const { t, i18n } = useTranslation();
  const { id = '' } = useParams();
  const navigate = useNavigate();
  const client = useQueryClient();
  const found = useQuery(deliveryQueries.keptOne(id));
  const [most, setMost] = useState(SHOWN);
  const { pages, error, addressOf } = useKeptPages(id, Math.min(most, found.data?.pages ?? 0));
  const remove = useMutation({
    mutationFn: () => deliveries.removeKept(id),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: ['kept'] });
      navigate('/kept');
    },
  });
  if (found.error) return <Failure error={found.error} retry={() => void found.refetch()} />;
  if (!found.data) return <Notice>{t('app.loading')}</Notice>;
  const { name, madeAt, owner, files, may, pages: of } = found.data;
  const moment = new Intl.DateTimeFormat(i18n.language, { dateStyle: 'long', timeStyle: 'short' });
  const askRemove = async (): Promise<void> => {
    if (await agreed(t('deliveries.keptRemoveHelp', { name }), t('deliveries.remove'))) remove.mutate();
  };
  return (
    <div className="flex h-full flex-col">
      <ScreenHeader title={name}>
        <span className="min-w-0 truncate text-ink-2">
          {t('deliveries.keptAt', { at: moment.format(new Date(madeAt)), owner })}
        </span>
        <span className="flex-1" />
        <span className="flex min-w-0 gap-3 overflow-hidden max-sm:hidden">
          {files.map((file) => (
            <FileLink
              key={file.place}
              {...file}
              place={{ call: 'GET /kept/:id/files/:place', params: { id, place: String(file.place) } }}
            />
          ))}
        </span>
        <Button onClick={() => navigate('/kept')}>{t('deliveries.tab_kept')}</Button>
        {may === 'remove' && (
          <IconButton label={t('deliveries.remove')} onClick={() => void askRemove()}>
            <Trash2 size={15} />
          </IconButton>
        )}
      </ScreenHeader>
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls, also by keys */}
      <main tabIndex={0} className="min-h-0 flex-1 overflow-auto bg-desk/60 p-4">
        {error && <Failure error={error} />}
        {remove.error && <Failure error={remove.error} />}
        {pages?.map((page) => (
          <div
            key={page.number}
            data-page={page.number}
            className="mx-auto mb-4 bg-white shadow [&_svg]:block [&_svg]:h-auto [&_svg]:w-full"
            style={{ maxWidth: `${(page.width * 4) / 3}px` }}
            // The text of every mark is escaped by pageToSvg.
            // biome-ignore lint/security/noDangerouslySetInnerHtml: see above
            dangerouslySetInnerHTML={{ __html: pageToSvg(page, addressOf) }}
          />
        ))}
        {of > most && (
          <p className="text-center">
            <Button onClick={() => setMost(most + SHOWN)}>{t('deliveries.morePages', { count: of - most })}</Button>
          </p>
        )}
      </main>
      <Questions />
    </div>
  );
};
