import { useState } from 'react';
import { useTranslation } from '../i18n/use-translation.ts';
import { Button, inputLook } from '../ui/controls.tsx';

export type Credentials = Record<string, { user: string; password: string }>;

/** Asks for user and password of databases that want to know who runs a report. They are kept for this visit alone. */
export const SignIn = ({
  connections,
  onGiven,
}: {
  connections: readonly string[];
  onGiven: (given: Credentials) => void;
}) => {
  const { t } = useTranslation();
  const [given, setGiven] = useState<Credentials>({});
  const of = (name: string) => given[name] ?? { user: '', password: '' };
  return (
    <form
      className="mx-auto mt-16 flex max-w-md flex-col gap-3 rounded-lg border border-rule bg-paper p-5"
      onSubmit={(event) => {
        event.preventDefault();
        onGiven(Object.fromEntries(connections.map((name) => [name, of(name)])));
      }}
    >
      <h2 className="text-[15px] font-semibold">{t('viewer.signInTitle')}</h2>
      <p className="text-ink-2">{t('viewer.signInHelp')}</p>
      {connections.map((name) => (
        <fieldset key={name} className="flex flex-col gap-1.5">
          <legend className="mb-1 font-semibold">{t('viewer.signInFor', { name })}</legend>
          <input
            className={inputLook}
            aria-label={t('viewer.user')}
            placeholder={t('viewer.user')}
            autoComplete="username"
            required
            value={of(name).user}
            onChange={(e) => setGiven({ ...given, [name]: { ...of(name), user: e.target.value } })}
          />
          <input
            className={inputLook}
            type="password"
            aria-label={t('viewer.password')}
            placeholder={t('viewer.password')}
            autoComplete="current-password"
            value={of(name).password}
            onChange={(e) => setGiven({ ...given, [name]: { ...of(name), password: e.target.value } })}
          />
        </fieldset>
      ))}
      <Button look="primary" type="submit" className="self-start">
        {t('viewer.run')}
      </Button>
    </form>
  );
};
