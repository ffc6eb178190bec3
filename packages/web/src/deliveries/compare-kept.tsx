import { compareRevisions } from '@gaveta/core/internal';
import { useQuery } from '@tanstack/react-query';
import { ChevronDown, ChevronUp } from 'lucide-react';
import { useMemo, useRef } from 'react';
import { useParams } from 'react-router';
import { deliveryQueries } from '../api/deliveries.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { ComparedSide, Legend } from '../revisions/compared-pages.tsx';
import { follow, showPlace } from '../revisions/scrolling.ts';
import { IconButton } from '../ui/controls.tsx';
import { Failure } from '../ui/failure.tsx';
import { ScreenHeader } from '../ui/screen-header.tsx';
import { useKeptPages } from './use-kept-pages.ts';

/** Pages that are compared, from the first one on. */
const MOST = 40;

const useSide = (id: string) => {
  const found = useQuery(deliveryQueries.keptOne(id));
  const kept = useKeptPages(id, Math.min(MOST, found.data?.pages ?? 0));
  return { result: found.data ?? null, ...kept, error: found.error ?? kept.error };
};

/** Two kept results side by side, with what differs marked on their pages. */
export const CompareKept = () => {
  const { t, i18n } = useTranslation();
  const { id = '', other = '' } = useParams();
  const older = useSide(other);
  const newer = useSide(id);
  const left = useRef<HTMLDivElement>(null);
  const right = useRef<HTMLDivElement>(null);
  const at = useRef(-1);
  const compared = useMemo(
    () => (older.pages && newer.pages ? compareRevisions(older.pages, newer.pages) : null),
    [older.pages, newer.pages],
  );
  const steps = compared?.steps ?? [];
  const step = (by: number): void => {
    at.current = (at.current + by + steps.length) % steps.length;
    const { page, y } = steps[at.current]!;
    for (const side of [left, right]) showPlace(side.current, page, y);
  };
  const moment = new Intl.DateTimeFormat(i18n.language, { dateStyle: 'medium', timeStyle: 'short' });
  const sideOf = ({ result, pages, error }: typeof older) =>
    result && { state: result.run, pages, shown: pages ?? [], error };
  const titleOf = ({ result }: typeof older): string =>
    result ? `${result.name}, ${moment.format(new Date(result.madeAt))}` : '…';
  return (
    <div className="flex h-full flex-col">
      <ScreenHeader title={t('deliveries.compareTitle')}>
        <span role="status" className="text-ink-2" data-testid="differences">
          {compared && t('revisions.places', { count: steps.length })}
        </span>
        {(['previous', 'next'] as const).map((way) => (
          <IconButton
            key={way}
            label={t(`revisions.${way}`)}
            disabled={steps.length === 0}
            onClick={() => step(way === 'next' ? 1 : -1)}
          >
            {way === 'next' ? <ChevronDown size={15} /> : <ChevronUp size={15} />}
          </IconButton>
        ))}
        <Legend />
      </ScreenHeader>
      {(older.error ?? newer.error) && <Failure error={older.error ?? newer.error} />}
      <main className="grid min-h-0 flex-1 grid-cols-2 max-sm:grid-cols-1">
        <ComparedSide
          run={sideOf(older)}
          places={compared?.older ?? null}
          addressOf={older.addressOf}
          title={titleOf(older)}
          side={t('revisions.older')}
          scroller={left}
          onScroll={() => follow(left, right)}
        />
        <ComparedSide
          run={sideOf(newer)}
          places={compared?.newer ?? null}
          addressOf={newer.addressOf}
          title={titleOf(newer)}
          side={t('revisions.newer')}
          scroller={right}
          onScroll={() => follow(right, left)}
        />
      </main>
    </div>
  );
};
