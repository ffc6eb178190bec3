import { ACTS } from '@gaveta/core/internal';
import { useInfiniteQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { libraryQueries } from '../api/library.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { Button, inputLook, Notice } from '../ui/controls.tsx';
import { Failure } from '../ui/failure.tsx';
import { ScreenHeader } from '../ui/screen-header.tsx';
import { Select } from '../ui/select.tsx';
import { useLater } from '../ui/use-later.ts';

/** Milliseconds without a letter after which is looked for what was typed. */
const PAUSE = 200;

const worded = (value: unknown): string =>
  typeof value === 'object' && value !== null
    ? Object.entries(value)
        .map(([name, inner]) => `${name}: ${worded(inner)}`)
        .join(', ')
    : String(value ?? '–');

/** Who did what with what one may decide about. */
export const RecordScreen = () => {
  const { t, i18n } = useTranslation();
  const [params] = useSearchParams();
  const [find, setFind] = useState('');
  const [act, setAct] = useState('');
  const { value: later } = useLater(find, PAUSE);
  const thing = params.get('thing') ?? undefined;
  const asked = { find: later, act, ...(thing === undefined ? {} : { thing }) };
  const record = useInfiniteQuery(libraryQueries.activity(asked));
  const when = new Intl.DateTimeFormat(i18n.language, { dateStyle: 'medium', timeStyle: 'short' });
  const all = record.data?.pages.flat() ?? [];
  const isAsked = later !== '' || act !== '' || thing !== undefined;
  return (
    <div className="flex h-full flex-col">
      <ScreenHeader title={t('activity.title')}>
        <span className="truncate text-ink-3">{t('activity.help')}</span>
      </ScreenHeader>
      <main className="min-h-0 flex-1 overflow-auto px-4 py-3.5">
        <div className="mb-3 flex flex-wrap items-center gap-2">
          <input
            type="search"
            className={`${inputLook} max-w-72`}
            aria-label={t('activity.find')}
            placeholder={t('activity.find')}
            maxLength={200}
            value={find}
            onChange={(event) => setFind(event.target.value)}
          />
          <Select
            label={t('activity.did')}
            look="quiet"
            value={act === '' ? 'any' : act}
            choices={[
              { value: 'any', label: t('activity.anyAct') },
              ...ACTS.map((value) => ({ value: value as string, label: t(`activity.act_${value}`) })),
            ]}
            onPick={(next) => setAct(next === 'any' ? '' : next)}
          />
        </div>
        {record.error && <Failure error={record.error} retry={() => void record.refetch()} />}
        {record.data && all.length === 0 && <Notice>{t(isAsked ? 'activity.none' : 'activity.empty')}</Notice>}
        {all.length > 0 && (
          <table className="w-full border-collapse text-start">
            <thead className="text-[11.5px] text-ink-3">
              <tr>
                {(['when', 'who', 'did', 'what', 'with'] as const).map((name) => (
                  <th key={name} scope="col" className="border-b border-rule px-2 py-1 text-start font-normal">
                    {t(`activity.${name}`)}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {all.map((one) => (
                <tr key={one.id} className="hover:bg-desk/30" data-act={one.act}>
                  <td className="border-b border-rule-soft px-2 py-1 whitespace-nowrap text-ink-2">
                    {when.format(new Date(one.at))}
                  </td>
                  <td className="border-b border-rule-soft px-2 py-1">{one.user}</td>
                  <td className="border-b border-rule-soft px-2 py-1 whitespace-nowrap">
                    {t(`activity.act_${one.act}`)}
                  </td>
                  <td className="border-b border-rule-soft px-2 py-1 font-semibold">
                    {one.thing === null ? (
                      one.name
                    ) : (
                      <Link
                        to={`/?thing=${encodeURIComponent(one.thing)}&find=${encodeURIComponent(one.name)}`}
                        className="hover:text-pine"
                      >
                        {one.name}
                      </Link>
                    )}
                  </td>
                  <td
                    className="max-w-96 truncate border-b border-rule-soft px-2 py-1 text-ink-3"
                    title={worded(one.data)}
                  >
                    {worded(one.data)}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
        {record.hasNextPage && (
          <Button className="mt-4" disabled={record.isFetchingNextPage} onClick={() => void record.fetchNextPage()}>
            {t('library.more')}
          </Button>
        )}
      </main>
    </div>
  );
};
