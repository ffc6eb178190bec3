import { useQuery } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { libraryQueries, type Thing } from '../api/library.ts';

/** Whether something has come into sight; from then on it counts as seen. */
const useSeen = () => {
  const [isSeen, setIsSeen] = useState(false);
  const at = useRef<HTMLSpanElement>(null);
  useEffect(() => {
    if (!at.current || isSeen) return;
    const watcher = new IntersectionObserver(([entry]) => entry?.isIntersecting && setIsSeen(true));
    watcher.observe(at.current);
    return () => watcher.disconnect();
  }, [isSeen]);
  return { at, isSeen };
};

/** A thing’s first page as a small picture, asked for once it comes into sight; until there is one, a sheet with its name. */
export const FirstPage = ({
  thing,
  isSmall = false,
  isWhole = false,
}: {
  thing: Thing;
  isSmall?: boolean;
  /** All of it, however small. */
  isWhole?: boolean;
}) => {
  const { at, isSeen } = useSeen();
  const { data } = useQuery({ ...libraryQueries.picture(thing), enabled: isSeen });
  return (
    <span ref={at} aria-hidden className="absolute inset-0" data-picture={data?.state}>
      {data?.png ? (
        <img
          src={`data:image/png;base64,${data.png}`}
          alt=""
          draggable={false}
          className={`bg-white dark:brightness-90 ${isWhole || thing.kind === 'picture' ? 'size-full object-contain' : 'w-full'}`}
        />
      ) : isSmall ? (
        <span className="absolute inset-1.5 top-2 h-1 bg-rule" />
      ) : (
        <span className="absolute inset-0 flex flex-col gap-2 p-3">
          <span className="line-clamp-3 text-[13px] leading-tight font-semibold text-ink-2">{thing.name}</span>
          <span className="h-px w-full bg-rule" />
        </span>
      )}
    </span>
  );
};
