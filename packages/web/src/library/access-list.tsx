import { ACCESS_LEVELS, type AccessLevel } from '@gaveta/core/internal';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { X } from 'lucide-react';
import { useId, useState } from 'react';
import { type AccessChange, library, libraryQueries, type Target } from '../api/library.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { Button, IconButton, inputLook } from '../ui/controls.tsx';
import { Failure } from '../ui/failure.tsx';
import { Select } from '../ui/select.tsx';

const EVERYBODY = 'everybody';

/** A person, a group or everybody, in words. */
const usePrincipal = (): ((principal: string) => { name: string; kind: string; letter: string }) => {
  const { t } = useTranslation();
  return (principal) => {
    if (principal === EVERYBODY) return { name: t('library.everybody'), kind: '', letter: '∗' };
    const name = principal.slice(principal.indexOf(':') + 1);
    const isGroup = principal.startsWith('group:');
    return { name, kind: isGroup ? t('library.group') : '', letter: [...name][0]?.toLocaleUpperCase() ?? '' };
  };
};

/** Who may do what with a folder or thing, by what was granted on it and around it; those who may manage it decide here. */
export const AccessList = ({ target, mayManage }: { target: Target; mayManage: boolean }) => {
  const { t } = useTranslation();
  const client = useQueryClient();
  const said = usePrincipal();
  const { data, error } = useQuery(libraryQueries.access(target));
  const change = useMutation({
    mutationFn: (changed: AccessChange) => library.grant(target, changed),
    onSuccess: () => client.invalidateQueries({ queryKey: ['reports'] }),
  });
  if (error) return <Failure error={error} />;
  const places = data?.places ?? [];
  const [own, ...around] = places;
  if (!own) return null;
  const levels = ACCESS_LEVELS.map((value) => ({ value, label: t(`library.may_${value}`) }));
  const line = (principal: string, may: AccessLevel, where: string | null) => {
    const { name, kind, letter } = said(principal);
    return (
      <li key={`${principal} ${where}`} className="flex min-h-7 items-center gap-2">
        <span
          aria-hidden
          className="grid size-5 flex-none place-items-center rounded-full bg-pine-soft text-[10.5px] text-pine italic"
        >
          {letter}
        </span>
        <span className="min-w-0 flex-1 truncate" title={kind === '' ? name : `${name} (${kind})`}>
          {name}
          {kind !== '' && <span className="ms-1 text-[11.5px] text-ink-3">{kind}</span>}
        </span>
        {where === null && mayManage ? (
          <>
            <Select
              label={t('library.whatMay', { name })}
              look="quiet"
              value={may}
              choices={levels}
              onPick={(next) => change.mutate({ principal, may: next })}
            />
            <IconButton label={t('library.takeAway', { name })} onClick={() => change.mutate({ principal, may: null })}>
              <X size={13} />
            </IconButton>
          </>
        ) : (
          <span className="flex-none text-ink-3">{t(`library.may_${may}`)}</span>
        )}
      </li>
    );
  };
  return (
    <div className="flex flex-col gap-1">
      <ul aria-label={t('library.whoMay')}>
        {own.owner !== null && (
          <li className="flex min-h-7 items-center gap-2">
            <span
              aria-hidden
              className="grid size-5 flex-none place-items-center rounded-full bg-brass-soft text-[10.5px] italic"
            >
              {[...own.owner][0]?.toLocaleUpperCase()}
            </span>
            <span className="min-w-0 flex-1 truncate">{own.owner}</span>
            <span className="flex-none text-ink-3">{t('library.owner')}</span>
          </li>
        )}
        {own.grants.map(({ principal, may }) => line(principal, may, null))}
      </ul>
      {mayManage && <AddGrant onGrant={(principal, may) => change.mutate({ principal, may })} />}
      {change.error && <Failure error={change.error} />}
      {around
        .filter(({ grants }) => grants.length > 0)
        .map((place) => (
          <div key={places.indexOf(place)} className="border-t border-rule-soft pt-1">
            <p className="text-[11.5px] text-ink-3">
              {place.name === null
                ? t('library.fromHidden')
                : t('library.fromFolder', { name: place.name === '' ? t('library.root') : place.name })}
            </p>
            <ul>{place.grants.map(({ principal, may }) => line(principal, may, `${places.indexOf(place)}`))}</ul>
          </div>
        ))}
      {mayManage && (around.length > 0 || !own.inherits) && (
        <label className="flex items-start gap-2 border-t border-rule-soft pt-1.5">
          <input
            type="checkbox"
            className="mt-0.5"
            checked={own.inherits}
            onChange={(event) => change.mutate({ inherits: event.target.checked })}
          />
          <span>{t('library.inherits')}</span>
        </label>
      )}
    </div>
  );
};

/** Lets one more person or group do something; those that came before are offered while one types. */
const AddGrant = ({ onGrant }: { onGrant: (principal: string, may: AccessLevel) => void }) => {
  const { t } = useTranslation();
  const said = usePrincipal();
  const list = useId();
  const [isOpen, setIsOpen] = useState(false);
  const [kind, setKind] = useState<'group' | 'user' | 'everybody'>('group');
  const [name, setName] = useState('');
  const [may, setMay] = useState<AccessLevel>('see');
  const { data: people = [] } = useQuery({ ...libraryQueries.people(name), enabled: isOpen && kind !== EVERYBODY });
  if (!isOpen)
    return (
      <Button className="self-start" onClick={() => setIsOpen(true)}>
        {t('library.addPeople')}
      </Button>
    );
  const principal = kind === EVERYBODY ? EVERYBODY : `${kind}:${name.trim()}`;
  const isWhole = kind === EVERYBODY || name.trim() !== '';
  return (
    <form
      className="flex flex-col gap-1.5 rounded-md border border-rule p-2"
      onSubmit={(event) => {
        event.preventDefault();
        if (!isWhole) return;
        onGrant(principal, may);
        setName('');
        setIsOpen(false);
      }}
      onKeyDown={(event) => event.key === 'Escape' && setIsOpen(false)}
    >
      <div className="grid grid-cols-2 gap-1.5">
        <Select
          label={t('library.kindOfPeople')}
          value={kind}
          choices={(['group', 'user', EVERYBODY] as const).map((value) => ({
            value,
            label: t(`library.kind_${value}`),
          }))}
          onPick={setKind}
        />
        <Select
          label={t('library.mayDo')}
          value={may}
          choices={ACCESS_LEVELS.map((value) => ({ value, label: t(`library.may_${value}`) }))}
          onPick={setMay}
        />
      </div>
      {kind !== EVERYBODY && (
        <>
          <input
            // biome-ignore lint/a11y/noAutofocus: it comes when it is asked for
            autoFocus
            list={list}
            maxLength={200}
            className={inputLook}
            aria-label={t(kind === 'group' ? 'library.groupName' : 'library.userName')}
            placeholder={t(kind === 'group' ? 'library.groupName' : 'library.userName')}
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
          <datalist id={list}>
            {people
              .filter((one) => one.startsWith(`${kind}:`))
              .map((one) => (
                <option key={one} value={said(one).name} />
              ))}
          </datalist>
        </>
      )}
      <span className="flex gap-1.5">
        <Button look="primary" type="submit" disabled={!isWhole}>
          {t('library.grant')}
        </Button>
        <Button onClick={() => setIsOpen(false)}>{t('app.cancel')}</Button>
      </span>
    </form>
  );
};
