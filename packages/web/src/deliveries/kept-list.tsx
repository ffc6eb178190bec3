import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate, useSearchParams } from 'react-router';
import { deliveryQueries } from '../api/deliveries.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { Button, Notice } from '../ui/controls.tsx';
import { Failure } from '../ui/failure.tsx';
import { FileLink } from './file-link.tsx';

/** Results that stay as they were, the newest first; two of them can be compared. */
export const KeptList = () => {
  const { t, i18n } = useTranslation();
  const navigate = useNavigate();
  const [params] = useSearchParams();
  const report = params.get('report');
  const list = useQuery(deliveryQueries.kept(report === null ? {} : { report }));
  const [chosen, setChosen] = useState<readonly string[]>([]);
  if (list.error) return <Failure error={list.error} retry={() => void list.refetch()} />;
  if (!list.data) return <Notice>{t('app.loading')}</Notice>;
  if (list.data.length === 0) return <Notice title={t('deliveries.keptNone')}>{t('deliveries.keptHelp')}</Notice>;
  const moment = new Intl.DateTimeFormat(i18n.language, { dateStyle: 'medium', timeStyle: 'short' });
  const toggle = (id: string): void =>
    setChosen((before) => (before.includes(id) ? before.filter((one) => one !== id) : [...before, id].slice(-2)));
  const cell = 'border-b border-rule-soft px-2 py-1.5 align-top';
  // The older one stands at the left.
  const [newer, older] = list.data.filter(({ id }) => chosen.includes(id));
  return (
    <div className="px-4 py-3.5">
      <div className="mb-3 flex items-center gap-2">
        <span className="flex-1 text-ink-3">{t('deliveries.compareHelp')}</span>
        <Button
          disabled={!older || !newer}
          onClick={() => older && newer && navigate(`/kept/${newer.id}/compare/${older.id}`)}
        >
          {t('deliveries.compare')}
        </Button>
      </div>
      <div className="overflow-x-auto">
        <table className="w-full border-collapse text-start">
          <thead className="text-[11.5px] text-ink-3">
            <tr>
              <th className="w-8 border-b border-rule">
                <span className="sr-only">{t('deliveries.compare')}</span>
              </th>
              {(['result', 'madeAt', 'size', 'files'] as const).map((name) => (
                <th key={name} scope="col" className="border-b border-rule px-2 py-1 text-start font-normal">
                  {t(`deliveries.kept_${name}`)}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {list.data.map((one) => (
              <tr key={one.id} className="hover:bg-desk/30" data-kept={one.id}>
                <td className={cell}>
                  <input
                    type="checkbox"
                    aria-label={t('deliveries.compareThis', {
                      name: one.name,
                      at: moment.format(new Date(one.madeAt)),
                    })}
                    checked={chosen.includes(one.id)}
                    onChange={() => toggle(one.id)}
                  />
                </td>
                <td className={cell}>
                  <Link to={`/kept/${one.id}`} className="font-semibold hover:text-pine">
                    {one.name}
                  </Link>
                  <span className="block text-ink-3">{one.owner}</span>
                </td>
                <td className={`${cell} whitespace-nowrap`}>{moment.format(new Date(one.madeAt))}</td>
                <td className={`${cell} text-ink-2`}>
                  {t('deliveries.size', {
                    pages: t('deliveries.pages', { count: one.pages }),
                    rows: t('deliveries.rows', { count: one.rows }),
                  })}
                </td>
                <td className={cell}>
                  {one.files.map((file) => (
                    <div key={file.place}>
                      <FileLink
                        {...file}
                        place={{
                          call: 'GET /kept/:id/files/:place',
                          params: { id: one.id, place: String(file.place) },
                        }}
                      />
                    </div>
                  ))}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </div>
  );
};
