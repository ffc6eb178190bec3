import { useQuery } from '@tanstack/react-query';
import { Plus } from 'lucide-react';
import { Link, useNavigate } from 'react-router';
import { type DeliverySummary, deliveryQueries } from '../api/deliveries.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { Button, Notice } from '../ui/controls.tsx';
import { Failure } from '../ui/failure.tsx';
import { RunOutcome, StateMark } from './marks.tsx';
import { whenWords } from './when-words.ts';

/** Columns that narrow screens leave out; when one goes stands under its name there. */
const WIDE: ReadonlySet<string> = new Set(['when', 'next', 'state']);

/** One’s deliveries, with when each goes next and what became of it last. */
export const DeliveryList = () => {
  const { t } = useTranslation();
  const navigate = useNavigate();
  const list = useQuery(deliveryQueries.list());
  if (list.error) return <Failure error={list.error} retry={() => void list.refetch()} />;
  if (!list.data) return <Notice>{t('app.loading')}</Notice>;
  const add = (
    <Button look="primary" onClick={() => navigate('/deliveries/new')}>
      <Plus size={15} aria-hidden /> {t('deliveries.new')}
    </Button>
  );
  if (list.data.length === 0)
    return (
      <Notice title={t('deliveries.none')} action={add}>
        {t('deliveries.noneHelp')}
      </Notice>
    );
  return (
    <div className="px-4 py-3.5">
      <div className="mb-3 flex items-center justify-end">{add}</div>
      <div className="overflow-x-auto">
        <table className="w-full border-collapse text-start">
          <thead className="text-[11.5px] text-ink-3">
            <tr>
              {(['name', 'when', 'next', 'last', 'state'] as const).map((name) => (
                <th
                  key={name}
                  scope="col"
                  className={`border-b border-rule px-2 py-1 text-start font-normal ${WIDE.has(name) ? 'max-sm:hidden' : ''}`}
                >
                  {t(`deliveries.column_${name}`)}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {list.data.map((one) => (
              <DeliveryRow key={one.id} delivery={one} />
            ))}
          </tbody>
        </table>
      </div>
    </div>
  );
};

const cell = 'border-b border-rule-soft px-2 py-1.5 align-top';

const DeliveryRow = ({ delivery }: { delivery: DeliverySummary }) => {
  const { t, i18n } = useTranslation();
  const { id, name, reportName, owner, isOwn, definition, nextAt, last, state } = delivery;
  const moment = new Intl.DateTimeFormat(i18n.language, { dateStyle: 'medium', timeStyle: 'short' });
  const words = whenWords(definition.when, t, i18n.language);
  return (
    <tr className="hover:bg-desk/30" data-delivery={id}>
      <td className={cell}>
        <Link to={`/deliveries/${id}`} className="font-semibold hover:text-pine">
          {name}
        </Link>
        <span className="block text-ink-3">
          {reportName ?? t('deliveries.reportGone')}
          {!isOwn && ` · ${owner}`}
        </span>
        <span className="block text-ink-2 sm:hidden">{words}</span>
      </td>
      <td className={`${cell} max-sm:hidden`}>{words}</td>
      <td className={`${cell} whitespace-nowrap text-ink-2 max-sm:hidden`}>
        {nextAt === null ? '–' : moment.format(new Date(nextAt))}
      </td>
      <td className={cell}>
        {last ? (
          <>
            <RunOutcome run={last} />
            <span className="block text-ink-3">{moment.format(new Date(last.dueAt))}</span>
          </>
        ) : (
          <span className="text-ink-3">{t('deliveries.neverRan')}</span>
        )}
      </td>
      <td className={`${cell} max-sm:hidden`}>
        <StateMark state={state} />
      </td>
    </tr>
  );
};
