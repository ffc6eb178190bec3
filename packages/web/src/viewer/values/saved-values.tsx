import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Bookmark, Trash2, Users } from 'lucide-react';
import { Popover } from 'radix-ui';
import { useState } from 'react';
import { api, type ParameterValues } from '../../api/client.ts';
import { queries } from '../../api/queries.ts';
import { useTranslation } from '../../i18n/use-translation.ts';
import { agreed } from '../../ui/confirm.tsx';
import { Button, IconButton, inputLook } from '../../ui/controls.tsx';
import { useFailureText } from '../../ui/failure.tsx';
import { Panel } from '../../ui/panel.tsx';
import { setOf } from './staged.ts';

interface SavedValuesProps {
  report: string;
  given: ParameterValues;
  mayShare: boolean;
  onPick: (values: ParameterValues) => void;
}

/** Values that were kept under a name: one’s own, and those that others share. */
export const SavedValues = ({ report, given, mayShare, onPick }: SavedValuesProps) => {
  const { t } = useTranslation();
  const said = useFailureText();
  const client = useQueryClient();
  const [isOpen, setOpen] = useState(false);
  const sets = useQuery(queries.valueSets(report));
  const refresh = () => client.invalidateQueries({ queryKey: queries.valueSets(report).queryKey });
  const keep = useMutation({
    mutationFn: (set: { name: string; shared: boolean }) => api.keepValues(report, { ...set, values: given }),
    onSuccess: refresh,
  });
  const remove = useMutation({ mutationFn: (set: string) => api.removeValues(report, set), onSuccess: refresh });
  const known = sets.data ?? [];
  const current = setOf(known, given);
  const hasValues = Object.keys(given).length > 0;
  if (!hasValues && known.length === 0) return null;
  const error = keep.error ?? remove.error;
  return (
    <Popover.Root open={isOpen} onOpenChange={setOpen}>
      <Popover.Trigger asChild>
        <button
          type="button"
          className="inline-flex h-7 max-w-56 items-center gap-1 rounded px-1.5 text-ink-2 hover:text-pine"
        >
          <Bookmark size={13} aria-hidden className="flex-none" />
          <span className="truncate">{current && hasValues ? current.name : t('viewer.values.saved')}</span>
        </button>
      </Popover.Trigger>
      <Panel label={t('viewer.values.saved')} align="start" className="w-80 p-2 [--panel-height:70vh]">
        {known.length === 0 && <p className="px-1.5 py-1 text-ink-2">{t('viewer.values.none')}</p>}
        <ul>
          {known.map((set) => (
            <li key={set.id} className="group flex items-center gap-1">
              <button
                type="button"
                aria-current={set === current ? 'true' : undefined}
                className="flex min-h-7 min-w-0 flex-1 items-center gap-2 rounded px-1.5 text-start hover:bg-desk/60 aria-[current]:bg-pine-soft"
                onClick={() => {
                  setOpen(false);
                  onPick(set.values);
                }}
              >
                <span className="min-w-0 flex-1 truncate">{set.name}</span>
                {set.isShared && (
                  <span className="inline-flex items-center gap-1 text-[12px] text-ink-3">
                    <Users size={12} aria-hidden />
                    {set.isOwn ? t('viewer.values.shared') : set.by}
                  </span>
                )}
              </button>
              {(set.isOwn || mayShare) && (
                <IconButton
                  label={t('viewer.values.remove', { name: set.name })}
                  onClick={async () => {
                    const text = t('viewer.values.sureToRemove', { name: set.name });
                    if (!set.isShared || (await agreed(text, t('viewer.values.removeIt')))) remove.mutate(set.id);
                  }}
                >
                  <Trash2 size={13} aria-hidden />
                </IconButton>
              )}
            </li>
          ))}
        </ul>
        {hasValues && (
          <form
            className="mt-2 border-t border-rule-soft pt-2"
            onSubmit={(event) => {
              event.preventDefault();
              const form = event.currentTarget;
              const data = new FormData(form);
              const name = String(data.get('name') ?? '').trim();
              if (name === '') return;
              keep.mutate({ name, shared: data.get('shared') === 'on' }, { onSuccess: () => form.reset() });
            }}
          >
            <div className="flex gap-1.5">
              <input
                name="name"
                maxLength={80}
                className={inputLook}
                aria-label={t('viewer.values.name')}
                placeholder={t('viewer.values.name')}
              />
              <Button type="submit" disabled={keep.isPending}>
                {t('viewer.values.keep')}
              </Button>
            </div>
            {mayShare && (
              <label className="mt-1.5 flex items-center gap-2 text-ink-2">
                <input type="checkbox" name="shared" className="accent-pine" /> {t('viewer.values.share')}
              </label>
            )}
          </form>
        )}
        {error && (
          <p role="alert" className="mt-1.5 text-rust">
            {said(error).title}
          </p>
        )}
      </Panel>
    </Popover.Root>
  );
};
