import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { library, libraryQueries, type Thing } from '../api/library.ts';
import { queries } from '../api/queries.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { agreed } from './confirm.tsx';
import { Button, inputLook } from './controls.tsx';
import { Failure } from './failure.tsx';
import { isAtLeast } from './folder-tree.ts';
import { publishState, seenBefore } from './publish-state.ts';

/**
 * What readers see of a thing, and what can be done about it: publish a revision with a note, ask somebody else to, or take back what
 * they see. `revision`: the one that would be published, the newest when left out.
 */
export const PublishBox = ({ thing, revision = thing.revision }: { thing: Thing; revision?: number }) => {
  const { t } = useTranslation();
  const client = useQueryClient();
  const [note, setNote] = useState('');
  const { data: session } = useQuery(queries.session());
  const mayPublish = isAtLeast(thing.may, 'publish');
  const { data: publications = [] } = useQuery({ ...libraryQueries.publications(thing.id), enabled: mayPublish });
  const work = useMutation({
    mutationFn: (what: () => Promise<unknown>) => what(),
    onSuccess: async () => {
      setNote('');
      await client.invalidateQueries({ queryKey: ['reports'] });
      await client.invalidateQueries({ queryKey: ['report', thing.id] });
    },
  });
  const { published, asked, publishing } = thing;
  const { isSeen, isAsked, isOwnQuestion, newer, ...may } = publishState(thing, revision, session?.user);
  const publish = (number: number | null, words = ''): void =>
    work.mutate(() => library.publish(thing.id, number, words));
  const ask = (number: number | null): void => work.mutate(() => library.ask(thing.id, number, note.trim()));
  // What readers saw before this one.
  const before = seenBefore(publications, published);
  const takeBack = async (): Promise<void> => {
    const words =
      before === null ? t('publish.takeBackAll', { name: thing.name }) : t('publish.takeBackTo', { revision: before });
    if (await agreed(words, t('publish.takeBack'))) publish(before, '');
  };
  return (
    <div className="flex flex-col gap-1.5">
      <p className="text-ink-2" role="status">
        {published === null
          ? t('publish.none')
          : newer > 0
            ? t('publish.ahead', { revision: published, count: newer })
            : t('publish.current', { revision: published })}
      </p>
      {isAsked && asked && (
        <p className="rounded bg-brass-soft/60 px-2 py-1">
          {t('publish.askedBy', { who: asked.by, revision: asked.revision })}
          {asked.note !== '' && <q className="ms-1 italic">{asked.note}</q>}
        </p>
      )}
      {publishing === 'each-save' && isSeen && <p className="text-[12px] text-ink-3">{t('publish.eachSave')}</p>}
      {!isSeen && (
        <input
          className={inputLook}
          aria-label={t('publish.note')}
          placeholder={t('publish.note')}
          maxLength={500}
          value={note}
          onChange={(event) => setNote(event.target.value)}
        />
      )}
      <span className="flex flex-wrap gap-1.5">
        {may.mayPublish && (
          <Button look="primary" disabled={work.isPending} onClick={() => publish(revision, note.trim())}>
            {t('publish.publish', { revision })}
          </Button>
        )}
        {may.mayAsk && (
          <Button disabled={work.isPending} onClick={() => ask(revision)}>
            {t('publish.ask')}
          </Button>
        )}
        {may.mayEndQuestion && (
          <Button disabled={work.isPending} onClick={() => ask(null)}>
            {t(isOwnQuestion ? 'publish.askNoMore' : 'publish.decline')}
          </Button>
        )}
        {may.mayTakeBack && (
          <Button disabled={work.isPending} onClick={() => void takeBack()}>
            {t('publish.takeBack')}
          </Button>
        )}
      </span>
      {publishing === 'two-people' && !isSeen && <p className="text-[12px] text-ink-3">{t('publish.twoPeople')}</p>}
      {work.error && <Failure error={work.error} />}
    </div>
  );
};
