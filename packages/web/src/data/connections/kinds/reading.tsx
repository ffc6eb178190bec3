import { useFormContext } from 'react-hook-form';
import { useTranslation } from '../../../i18n/use-translation.ts';
import { inputLook } from '../../../ui/controls.tsx';
import { type ConnectionValues, says } from '../draft.ts';
import { Setting } from '../setting.tsx';

type Reading = ConnectionValues<'file'> | ConnectionValues<'http'>;

/** How numbers and dates of a new source are taken where its values do not tell. */
export const WRITING = { decimal: '.', dates: 'ymd' } as const;

/** Whether something is an address that can be fetched. */
export const isAddress = (text: string): boolean => /^https?:$/.test(URL.parse(text)?.protocol ?? '');

export const needsAddress = says('needsAddress');

/** An address, with those that the server allows. */
export const Address = ({ allowed }: { allowed: readonly string[] }) => {
  const { t } = useTranslation();
  const {
    register,
    formState: { errors },
  } = useFormContext<Reading>();
  const help = allowed.length === 0 ? t('data.noAddresses') : t('data.addresses', { list: allowed.join(', ') });
  return (
    <Setting label={t('data.address')} help={help} problem={errors.settings?.address}>
      <input className={inputLook} inputMode="url" {...register('settings.address')} />
    </Setting>
  );
};

/** Where the rows lie in JSON or XML. */
export const RowsAt = () => {
  const { t } = useTranslation();
  const {
    register,
    formState: { errors },
  } = useFormContext<Reading>();
  return (
    <Setting label={t('data.rowsAt')} help={t('data.rowsAtHelp')} problem={errors.settings?.rowsAt}>
      <input
        className={inputLook}
        placeholder="result.items"
        {...register('settings.rowsAt', { setValueAs: (path: string | undefined) => path || undefined })}
      />
    </Setting>
  );
};
