import { AS_STARTED, type FoldState, type PlaceInRun, type WireValue } from '@gaveta/core/internal';
import { type RefObject, useEffect, useRef, useState } from 'react';
import { useLocation, useNavigate } from 'react-router';
import { api } from '../../api/client.ts';
import { lookingAt } from '../reading/reading-place.ts';
import type { FollowedLink } from '../reading/use-page-presses.ts';
import type { Reading } from '../reading/use-reading.ts';
import type { LaidRun } from '../use-laid.ts';
import { isAllOpen } from '../use-laid.ts';
import { type CameFrom, leftAs, readState, withStep } from './came-from.ts';

interface LinksGiven {
  /** Name of the report that is read; empty until it is known. */
  name: string;
  laid: LaidRun;
  reading: Reading;
  scroller: RefObject<HTMLElement | null>;
  press: (values: Readonly<Record<string, WireValue>>) => void;
}

export interface Links {
  follow: (to: FollowedLink) => void;
  /** Goes to an anchor of the pages that are there; false when none of them has it. */
  reach: (anchor: string) => Promise<boolean>;
  /** Where a link was followed to here; null when none was. */
  cameFrom: CameFrom | null;
  back: () => void;
}

const isAsStarted = ({ base, turned }: FoldState): boolean => base === AS_STARTED.base && turned.length === 0;

/** Links of a report: to its own places, to other reports and back to where one was. */
export const useLinks = ({ name, laid, reading, scroller, press }: LinksGiven): Links => {
  const navigate = useNavigate();
  const location = useLocation();
  const { state } = laid;
  const { cameFrom, left } = readState(location.state);

  /** Where a link leads whose page is not there yet, or is inside something closed. */
  const [sought, setSought] = useState<string | null>(null);
  const reach = async (anchor: string): Promise<boolean> => {
    const place: PlaceInRun | null = state && (await api.anchor(state.id, anchor).catch(() => null));
    if (place) reading.goTo(place);
    return place !== null;
  };
  const isDone = state?.status === 'done';
  /** Something may be closed. */
  const hasClosed = state?.isFoldable === true && !isAllOpen(state);
  // biome-ignore lint/correctness/useExhaustiveDependencies: once more when all pages are there, and when they are others
  useEffect(() => {
    if (sought === null || !isDone) return;
    void reach(sought).then((isThere) => {
      if (!isThere && hasClosed && scroller.current) laid.all('open', lookingAt(scroller.current));
      // A link that leads nowhere leaves the reader where they are.
      else setSought(null);
    });
  }, [sought, isDone, hasClosed, state?.id]);

  // How it was read when one left from here is taken up once.
  const taken = useRef<string | null>(null);
  const isNew = left !== undefined && taken.current !== location.key;
  // biome-ignore lint/correctness/useExhaustiveDependencies: once for each entry of the history
  useEffect(() => {
    if (!left) return;
    reading.resume(left.place, left.zoom);
  }, [location.key]);
  const canFold = state?.isFoldable === true && state.pages > 0;
  // biome-ignore lint/correctness/useExhaustiveDependencies: once the run says that it has folds
  useEffect(() => {
    if (!isNew || !left || !canFold) return;
    taken.current = location.key;
    if (!isAsStarted(left.folds)) laid.set(left.folds, left.looking);
  }, [isNew, canFold]);

  const follow = async (to: FollowedLink): Promise<void> => {
    if (!state) return;
    if ('anchor' in to) {
      setSought((await reach(to.anchor)) ? null : to.anchor);
      return;
    }
    if ('set' in to) {
      press(to.set);
      return;
    }
    const values = Object.entries(to.parameters).flatMap(([parameter, value]) =>
      value === null ? [] : [[parameter, String(value)]],
    );
    const here = leftAs({
      place: reading.handle.current?.place() ?? { page: 1, y: 0 },
      zoom: reading.zoom,
      folds: state.folds,
      looking: scroller.current ? lookingAt(scroller.current) : { at: {}, below: 0 },
    });
    const address = `${location.pathname}${location.search}`;
    // The browser’s own way back finds it as well.
    navigate(address, { replace: true, state: { cameFrom, left: here } });
    navigate(
      { pathname: `../${encodeURIComponent(to.report)}`, search: new URLSearchParams(values).toString() },
      { relative: 'path', state: { cameFrom: withStep({ name, address, left: here, cameFrom }) } },
    );
  };
  return {
    follow: (to) => void follow(to),
    reach,
    cameFrom: cameFrom ?? null,
    back: () => {
      if (!cameFrom) return;
      navigate(cameFrom.address, { state: { cameFrom: cameFrom.cameFrom, left: cameFrom.left } });
    },
  };
};
