import { type Delivery, nextTimes, type Parameter } from '@gaveta/core/internal';
import { useQuery } from '@tanstack/react-query';
import { type DeliveryCheck, deliveryQueries } from '../../api/deliveries.ts';
import { useTranslation } from '../../i18n/use-translation.ts';
import { NextTimes, zoneOf } from '../delivery-screen.tsx';
import { whenWords } from '../when-words.ts';

/** Times that are shown ahead. */
const SHOWN = 10;

/** When a delivery goes, and what it would send now: beside its form, up to date with each change. */
export const Preview = ({
  definition,
  parameters,
  check,
  isBusy,
}: {
  definition: Delivery;
  parameters: readonly Parameter[];
  check: DeliveryCheck | null;
  isBusy: boolean;
}) => {
  const { t, i18n } = useTranslation();
  const targets = useQuery(deliveryQueries.targets());
  const { when } = definition;
  const next = nextTimes(when, Date.now(), SHOWN, targets.data?.daysOff);
  const sample = check?.samples[0];
  const labelOf = (name: string): string => parameters.find((one) => one.name === name)?.label ?? name;
  return (
    <aside
      aria-label={t('deliveries.preview')}
      className="min-h-0 overflow-auto border-s border-rule bg-sheet p-4 max-lg:border-s-0 max-lg:border-t"
    >
      <h2 className="font-semibold">{whenWords(when, t, i18n.language)}</h2>
      {next.length > 0 ? (
        <div className="mt-1 mb-4">
          <p className="text-[11.5px] text-ink-3">{t('deliveries.nextTimes')}</p>
          <NextTimes times={next} zone={zoneOf(when)} />
        </div>
      ) : (
        <p className="mt-1 mb-4 text-ink-2">
          {t(when.kind === 'calendar' || when.kind === 'once' ? 'deliveries.neverGoes' : 'deliveries.notByCalendar')}
        </p>
      )}
      {sample && (
        <section aria-label={t('deliveries.sample')} className={isBusy ? 'opacity-60' : ''}>
          <h2 className="font-semibold">{t('deliveries.sample')}</h2>
          {check?.parts !== null && (
            <p className="text-ink-2">{t('deliveries.sampleOf', { label: sample.label, count: check?.parts ?? 0 })}</p>
          )}
          {Object.entries(sample.values).length > 0 && (
            <dl className="my-1 grid grid-cols-[auto_1fr] gap-x-2">
              {Object.entries(sample.values).map(([name, value]) => (
                <div key={name} className="contents">
                  <dt className="text-ink-3">{labelOf(name)}</dt>
                  <dd className="break-words">{value}</dd>
                </div>
              ))}
            </dl>
          )}
          {sample.mails.map((mail) => (
            <div key={mail.target} className="my-2 rounded-md border border-rule bg-paper p-2">
              <p className="truncate text-ink-3">{mail.to.join(', ') || t('deliveries.nobody')}</p>
              <p className="font-semibold break-words">{mail.subject}</p>
              <p className="break-words whitespace-pre-wrap">{mail.words}</p>
            </div>
          ))}
          <ul className="text-ink-2">
            {sample.fileNames.map((name) => (
              <li key={name} className="truncate">
                {name}
              </li>
            ))}
          </ul>
        </section>
      )}
    </aside>
  );
};
