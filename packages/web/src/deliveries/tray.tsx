import { useQuery } from '@tanstack/react-query';
import { deliveryQueries } from '../api/deliveries.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { Notice } from '../ui/controls.tsx';
import { Failure } from '../ui/failure.tsx';
import { FileLink } from './file-link.tsx';

const SIDES = { 'one-sided': 'one', 'two-sided-long-edge': 'long-edge', 'two-sided-short-edge': 'short-edge' } as const;

/** What came to the printer that stands in for real ones. */
export const TrayPage = () => {
  const { t, i18n } = useTranslation();
  const list = useQuery(deliveryQueries.tray());
  if (list.error) return <Failure error={list.error} retry={() => void list.refetch()} />;
  if (!list.data) return <Notice>{t('app.loading')}</Notice>;
  if (list.data.length === 0) return <Notice title={t('deliveries.trayEmpty')}>{t('deliveries.trayHelp')}</Notice>;
  const time = new Intl.DateTimeFormat(i18n.language, { dateStyle: 'medium', timeStyle: 'medium' });
  const cell = 'border-b border-rule-soft px-2 py-1.5';
  return (
    <div className="overflow-x-auto px-4 py-3.5">
      <table className="w-full border-collapse text-start">
        <thead className="text-[11.5px] text-ink-3">
          <tr>
            {(['job', 'at', 'user', 'copies', 'sides', 'document'] as const).map((name) => (
              <th key={name} scope="col" className="border-b border-rule px-2 py-1 text-start font-normal">
                {t(`deliveries.tray_${name}`)}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {list.data.map(({ id, name, at, user, copies, sides, mime, size }) => (
            <tr key={id} className="hover:bg-desk/30" data-job={id}>
              <td className={cell}>{id}</td>
              <td className={`${cell} whitespace-nowrap`}>{time.format(new Date(at))}</td>
              <td className={cell}>{user}</td>
              <td className={cell}>{copies}</td>
              <td className={cell}>{t(`deliveries.sides_${SIDES[sides as keyof typeof SIDES] ?? 'one'}`)}</td>
              <td className={cell}>
                <FileLink
                  name={name.replace(/ \([0-9a-f-]{36}-\d+\)$/, '')}
                  {...{ mime, size }}
                  place={{ call: 'GET /printer-tray/:id/document', params: { id: String(id) } }}
                />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
};
