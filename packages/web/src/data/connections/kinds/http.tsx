import { CONNECTIONS } from '@gaveta/core/internal';
import { Globe } from 'lucide-react';
import { useFormContext, useWatch } from 'react-hook-form';
import { useTranslation } from '../../../i18n/use-translation.ts';
import { inputLook } from '../../../ui/controls.tsx';
import { Select } from '../../../ui/select.tsx';
import { type ConnectionValues, readHeaders, type SettingsOf, says, valuesSchema } from '../draft.ts';
import { Setting } from '../setting.tsx';
import type { ConnectionFormProps, ConnectionRoom } from './kind.ts';
import { Address, isAddress, needsAddress, RowsAt, WRITING } from './reading.tsx';

const schema = valuesSchema(CONNECTIONS.http).superRefine(({ settings: { address, paging }, secret }, context) => {
  const wrong = (path: string[], message: string) => context.addIssue({ code: 'custom', path, message });
  if (!isAddress(address)) wrong(['settings', 'address'], needsAddress);
  if (readHeaders(secret.headers) === null) wrong(['secret', 'headers'], says('headersWrong'));
  if (paging?.by === 'next' ? paging.at.trim() === '' : paging?.parameter.trim() === '')
    wrong(['settings', 'paging'], says('needsPaging'));
});

type Paging = NonNullable<SettingsOf<'http'>['paging']>;

/** What each way of paging starts with. */
const PAGING: { readonly [B in Paging['by']]: Extract<Paging, { by: B }> } = {
  page: { by: 'page', parameter: 'page', first: 1 },
  offset: { by: 'offset', parameter: 'offset', size: 100 },
  next: { by: 'next', at: 'next' },
};

const Form = ({ allowed }: ConnectionFormProps) => {
  const { t } = useTranslation();
  const {
    control,
    register,
    getValues,
    setValue,
    formState: { errors },
  } = useFormContext<ConnectionValues<'http'>>();
  const paging = useWatch({ control, name: 'settings.paging' });
  return (
    <>
      <Address allowed={allowed} />
      <Setting
        label={t('data.headers')}
        help={getValues('stored.secret') ? t('data.secretKept') : t('data.headersHelp')}
        problem={errors.secret?.headers}
      >
        <textarea
          className="h-14 w-full rounded border border-rule bg-paper p-2 font-mono text-[12px]"
          placeholder="Authorization: Bearer …"
          {...register('secret.headers')}
        />
      </Setting>
      <Setting label={t('data.paging')} problem={errors.settings?.paging}>
        <span className="flex gap-2">
          <Select
            label={t('data.paging')}
            value={paging?.by ?? ''}
            choices={[
              { value: '', label: t('data.pagingNone') },
              { value: 'page', label: t('data.pagingPage') },
              { value: 'offset', label: t('data.pagingOffset') },
              { value: 'next', label: t('data.pagingNext') },
            ]}
            onPick={(by) =>
              setValue('settings.paging', by === '' ? undefined : PAGING[by], {
                shouldDirty: true,
                shouldValidate: true,
              })
            }
          />
          {paging && (
            <input
              key={paging.by}
              className={inputLook}
              aria-label={t(paging.by === 'next' ? 'data.pagingAt' : 'data.pagingParameter')}
              {...register(paging.by === 'next' ? 'settings.paging.at' : 'settings.paging.parameter')}
            />
          )}
        </span>
      </Setting>
      <RowsAt />
    </>
  );
};

export const httpRoom: ConnectionRoom<'http'> = {
  Picture: Globe,
  begin: () => ({ kind: 'http', address: 'https://', ...WRITING }),
  schema,
  Form,
  hasSecret: true,
  isSeenAtOnce: false,
  shows: 'rows',
};
