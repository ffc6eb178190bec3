import { ENCODINGS, FILE_KINDS } from '@gaveta/core/internal';
import { useState } from 'react';
import { useFormContext, useWatch } from 'react-hook-form';
import { useTranslation } from '../../../i18n/use-translation.ts';
import { inputLook } from '../../../ui/controls.tsx';
import { Select } from '../../../ui/select.tsx';
import type { ConnectionValues } from '../draft.ts';
import { Setting } from '../setting.tsx';
import { RowsAt } from './reading.tsx';

const SEPARATORS = ['', ',', ';', '\t', '|'] as const;

/** How a file is read: its format, and what of it is found out where nobody says. */
export const FileReading = ({ seen }: { seen: readonly string[] }) => {
  const { t } = useTranslation();
  const {
    control,
    register,
    setValue,
    getValues,
    formState: { errors },
  } = useFormContext<ConnectionValues<'file'>>();
  const settings = useWatch({ control, name: 'settings' });
  const { format, encoding = '', delimiter = '', sheet, several } = settings;
  // A sheet that is chosen is the only one that is seen from then on.
  const [sheets, setSheets] = useState<readonly string[]>([]);
  if (format === 'xlsx' && sheet === undefined && seen.length > 0 && seen.join('/') !== sheets.join('/'))
    setSheets(seen);
  const put = (change: Partial<ConnectionValues<'file'>['settings']>): void =>
    setValue('settings', { ...getValues('settings'), ...change }, { shouldDirty: true, shouldValidate: true });
  const isText = format !== 'xlsx';
  const hasLines = format === 'csv' || format === 'xlsx';
  const names = [...new Set([...(sheet === undefined ? [] : [sheet]), ...sheets])];
  return (
    <>
      <Setting label={t('data.format')}>
        <Select
          label={t('data.format')}
          value={format}
          choices={FILE_KINDS.map((value) => ({ value, label: value.toUpperCase() }))}
          onPick={(next) => put({ format: next })}
        />
      </Setting>
      {(format === 'json' || format === 'xml') && <RowsAt />}
      {format === 'xlsx' && !several && (names.length > 1 || sheet !== undefined) && (
        <Setting label={t('data.sheet')}>
          <Select
            label={t('data.sheet')}
            value={sheet ?? ''}
            choices={[{ value: '', label: t('data.allSheets') }, ...names.map((value) => ({ value, label: value }))]}
            onPick={(next) => put({ sheet: next === '' ? undefined : next })}
          />
        </Setting>
      )}
      <details className="text-ink-2" open={isSaid(settings)}>
        <summary className="cursor-pointer py-1">{t('data.howItIsRead')}</summary>
        <div className="flex flex-col gap-2 pt-1 text-ink">
          {hasLines && (
            <Setting label={t('data.headings')} help={t('data.headingsHelp')} problem={errors.settings?.headings}>
              <input
                className={`${inputLook} max-w-32`}
                inputMode="numeric"
                placeholder="1"
                {...register('settings.headings', {
                  setValueAs: (text: unknown) => (text === '' || text === undefined ? undefined : Number(text)),
                })}
              />
            </Setting>
          )}
          {format === 'xlsx' && (
            <Setting label={t('data.cellRange')} help={t('data.cellRangeHelp')} problem={errors.settings?.range}>
              <input
                className={`${inputLook} max-w-40`}
                placeholder="B3:F40"
                {...register('settings.range', { setValueAs: (text: string | undefined) => text?.trim() || undefined })}
              />
            </Setting>
          )}
          {format === 'csv' && (
            <Setting label={t('data.separator')}>
              <Select
                label={t('data.separator')}
                value={delimiter}
                choices={SEPARATORS.map((value) => ({
                  value,
                  label: value === '' ? t('data.foundOut') : value === '\t' ? t('data.tabulator') : value,
                }))}
                onPick={(next) => put({ delimiter: next === '' ? undefined : next })}
              />
            </Setting>
          )}
          {isText && (
            <Setting label={t('data.encoding')} help={t('data.encodingHelp')}>
              <Select
                label={t('data.encoding')}
                value={encoding}
                choices={[
                  { value: '' as const, label: t('data.foundOut') },
                  ...ENCODINGS.map((value) => ({ value, label: value.toUpperCase() })),
                ]}
                onPick={(next) => put({ encoding: next === '' ? undefined : next })}
              />
            </Setting>
          )}
        </div>
      </details>
    </>
  );
};

/** Whether somebody said how a file is to be read. */
const isSaid = ({ headings, range, delimiter, encoding }: ConnectionValues<'file'>['settings']): boolean =>
  [headings, range, delimiter, encoding].some((said) => said !== undefined);
