import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api } from '../api/client.ts';
import { library, libraryQueries, type Themed } from '../api/library.ts';
import { queries } from '../api/queries.ts';
import { reportNames } from '../designer/design/words.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { changeWords } from '../revisions/change-words.ts';
import { Button, inputLook } from '../ui/controls.tsx';
import { Failure } from '../ui/failure.tsx';
import { isAtLeast } from '../ui/folder-tree.ts';

/** Puts a theme on several reports: they are chosen, what would change is shown, and then it is done. */
export const ThemeReports = ({ id, isSaved }: { id: string; isSaved: boolean }) => {
  const { t } = useTranslation();
  const client = useQueryClient();
  const [find, setFind] = useState('');
  const [picked, setPicked] = useState<ReadonlySet<string> | null>(null);
  const [note, setNote] = useState('');
  const found = useQuery(libraryQueries.ofKind('report', find));
  const users = useQuery(libraryQueries.users(id));
  // Those that have it come with its changes.
  const chosen = picked ?? new Set((users.data ?? []).filter(({ kind }) => kind === 'report').map((one) => one.id));
  const toggle = (report: string): void => {
    const next = new Set(chosen);
    if (!next.delete(report)) next.add(report);
    setPicked(next);
  };
  const changed = (): Promise<unknown> =>
    Promise.all([
      client.invalidateQueries({ queryKey: ['reports'] }),
      client.invalidateQueries({ queryKey: ['report'] }),
    ]);
  const look = useMutation({ mutationFn: () => library.putOn(id, { reports: [...chosen], apply: false }) });
  const apply = useMutation({
    mutationFn: (reports: string[]) => library.putOn(id, { reports, apply: true, note }),
    onSuccess: changed,
  });
  const undo = useMutation({
    mutationFn: async (done: readonly Themed[]) => {
      for (const one of done) {
        if (one.what !== 'changed') continue;
        const { revision } = await library.thing(one.id);
        await api.save(one.id, await api.revision(one.id, revision - 1), revision, t('house.takenBack'));
      }
    },
    onSuccess: async () => {
      apply.reset();
      look.reset();
      await changed();
    },
  });
  const things = found.data?.things ?? [];
  const willChange = (look.data ?? []).filter(({ what }) => what === 'changed');
  return (
    <section aria-label={t('house.putOn')} className="flex h-full min-h-0 flex-col overflow-auto p-4">
      {!isSaved && <p className="mb-3 rounded bg-brass-soft px-3 py-1.5">{t('house.saveFirst')}</p>}
      {look.error && <Failure error={look.error} />}
      {apply.error && <Failure error={apply.error} />}
      {undo.error && <Failure error={undo.error} />}
      {apply.data ? (
        <>
          <div className="mb-2 flex items-center gap-2">
            <p role="status" className="flex-1 font-semibold">
              {t('house.done', { count: apply.data.filter(({ what }) => what === 'changed').length })}
            </p>
            <Button disabled={undo.isPending} onClick={() => undo.mutate(apply.data)}>
              {t('house.takeBack')}
            </Button>
            <Button
              onClick={() => {
                apply.reset();
                look.reset();
              }}
            >
              {t('house.others')}
            </Button>
          </div>
          <Results results={apply.data} />
        </>
      ) : look.data ? (
        <>
          <h2 className="mb-2 font-semibold">{t('house.wouldChange', { count: willChange.length })}</h2>
          <Results results={look.data} />
          <div className="sticky bottom-0 mt-3 flex flex-wrap items-center gap-2 bg-paper py-2">
            <input
              className={`${inputLook} max-w-72`}
              aria-label={t('library.note')}
              placeholder={t('house.noteHint')}
              maxLength={500}
              value={note}
              onChange={(event) => setNote(event.target.value)}
            />
            <Button
              look="primary"
              disabled={willChange.length === 0 || apply.isPending}
              onClick={() => apply.mutate(willChange.map((one) => one.id))}
            >
              {t('house.apply', { count: willChange.length })}
            </Button>
            <Button onClick={() => look.reset()}>{t('house.back')}</Button>
          </div>
        </>
      ) : (
        <>
          <input
            type="search"
            className={`${inputLook} mb-2 max-w-72`}
            aria-label={t('library.find')}
            placeholder={t('library.find')}
            value={find}
            onChange={(event) => setFind(event.target.value)}
          />
          <ul className="min-h-0">
            {things.map((thing) => {
              const mayChange = isAtLeast(thing.may, 'change');
              return (
                <li key={thing.id} className="border-b border-rule-soft py-1">
                  <label className={`flex items-center gap-2 ${mayChange ? '' : 'text-ink-3'}`}>
                    <input
                      type="checkbox"
                      disabled={!mayChange}
                      checked={chosen.has(thing.id)}
                      onChange={() => toggle(thing.id)}
                    />
                    <span className="min-w-0 flex-1 truncate">{thing.name}</span>
                    <span className="text-[12px] text-ink-3">{thing.changedBy}</span>
                  </label>
                </li>
              );
            })}
          </ul>
          {found.data && things.length === 0 && <p className="text-ink-2">{t('library.none', { text: find })}</p>}
          <div className="sticky bottom-0 mt-3 bg-paper py-2">
            <Button
              look="primary"
              disabled={chosen.size === 0 || !isSaved || look.isPending}
              onClick={() => look.mutate()}
            >
              {t('house.showChanges', { count: chosen.size })}
            </Button>
          </div>
        </>
      )}
    </section>
  );
};

/** What changes in each report, in words. */
const Results = ({ results }: { results: readonly Themed[] }) => {
  const { t } = useTranslation();
  const reports = useQuery(queries.reports());
  const names = reportNames(reports.data);
  return (
    <ul data-testid="themed">
      {results.map(({ id, name, what, changes, problem }) => (
        <li key={id} className="border-b border-rule-soft py-1.5" data-what={what}>
          {what === 'changed' ? (
            <details>
              <summary className="cursor-default">
                <b className="font-semibold">{name}</b>{' '}
                <span className="text-ink-2">{t('house.changes', { count: changes.length })}</span>
              </summary>
              <ul className="list-disc ps-6 text-[12px] text-ink-2">
                {changes.map((change) => (
                  <li key={`${change.what}${change.how}${change.id}`}>{changeWords(t, change, names)}</li>
                ))}
              </ul>
            </details>
          ) : (
            <span>
              <b className="font-semibold">{name}</b>{' '}
              <span className={what === 'refused' ? 'text-rust-strong' : 'text-ink-2'}>
                {what === 'refused' ? problem : t('house.same')}
              </span>
            </span>
          )}
        </li>
      ))}
    </ul>
  );
};
