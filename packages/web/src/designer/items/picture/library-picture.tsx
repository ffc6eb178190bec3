import type { ItemOf } from '@gaveta/core/internal';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Popover } from 'radix-ui';
import { useState } from 'react';
import { library, libraryQueries } from '../../../api/library.ts';
import { useTranslation } from '../../../i18n/use-translation.ts';
import { Button } from '../../../ui/controls.tsx';
import { Failure } from '../../../ui/failure.tsx';
import { FirstPage } from '../../../ui/first-page.tsx';
import { NameForm } from '../../../ui/name-form.tsx';
import { Panel } from '../../../ui/panel.tsx';
import type { Chosen } from '../../settings/item-context.ts';

/** Takes the picture from the library, where a change of it changes all reports that show it, or puts it there. */
export const LibraryPicture = ({ item, chosen }: { item: ItemOf<'picture'>; chosen: Chosen }) => {
  const { t } = useTranslation();
  const client = useQueryClient();
  const [open, setOpen] = useState<'pick' | 'keep' | null>(null);
  const { fromLibrary } = item;
  const { data: named } = useQuery({ ...libraryQueries.thing(fromLibrary ?? ''), enabled: fromLibrary !== undefined });
  const take = (id: string): void => {
    setOpen(null);
    chosen.set(t('kinds.picture'), { fromLibrary: id, source: null, formula: null });
  };
  const keep = useMutation({
    mutationFn: (name: string) => library.keep({ gavetaPicture: 1, name, source: item.source! }),
    onSuccess: async ({ id }) => {
      await client.invalidateQueries({ queryKey: ['reports'] });
      take(id);
    },
  });
  return (
    <span className="flex min-w-0 flex-wrap items-center gap-1.5">
      <Popover.Root open={open === 'pick'} onOpenChange={(isOpen) => setOpen(isOpen ? 'pick' : null)}>
        <Popover.Trigger asChild>
          <Button className="min-w-0">
            <span className="truncate">
              {fromLibrary === undefined ? t('picture.pick') : (named?.name ?? t('picture.gone'))}
            </span>
          </Button>
        </Popover.Trigger>
        <Panel label={t('picture.library')} align="start" className="max-h-80 w-72 overflow-auto p-2">
          <LibraryPictures picked={fromLibrary ?? null} onPick={take} />
        </Panel>
      </Popover.Root>
      {item.source && open !== 'keep' && (
        <Button look="quiet" onClick={() => setOpen('keep')}>
          {t('picture.keep')}
        </Button>
      )}
      {item.source && open === 'keep' && (
        <NameForm
          label={t('picture.name')}
          action={t('picture.keepIt')}
          isBusy={keep.isPending}
          onName={(name) => keep.mutate(name)}
          onCancel={() => setOpen(null)}
        />
      )}
      {keep.error && <Failure error={keep.error} />}
    </span>
  );
};

const LibraryPictures = ({ picked, onPick }: { picked: string | null; onPick: (id: string) => void }) => {
  const { t } = useTranslation();
  const { data, error } = useQuery(libraryQueries.ofKind('picture'));
  const things = data?.things ?? [];
  if (error) return <Failure error={error} />;
  if (data && things.length === 0) return <p className="p-1 text-ink-2">{t('picture.noneKept')}</p>;
  return (
    <ul className="grid grid-cols-2 gap-2">
      {things.map((thing) => (
        <li key={thing.id}>
          <button
            type="button"
            aria-pressed={thing.id === picked}
            className={`w-full rounded border p-1 text-start ${thing.id === picked ? 'border-2 border-pine' : 'border-rule hover:border-pine'}`}
            onClick={() => onPick(thing.id)}
          >
            <span className="relative block h-16 overflow-hidden bg-sheet">
              <FirstPage thing={thing} isWhole />
            </span>
            <span className="mt-0.5 block truncate text-[12px]">{thing.name}</span>
          </button>
        </li>
      ))}
    </ul>
  );
};
