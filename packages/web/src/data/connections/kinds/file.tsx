import { CONNECTIONS } from '@gaveta/core/internal';
import { FileUp } from 'lucide-react';
import { useState } from 'react';
import { useFormContext, useWatch } from 'react-hook-form';
import { useTranslation } from '../../../i18n/use-translation.ts';
import { Select } from '../../../ui/select.tsx';
import { type ChosenFile, chosenFiles } from '../chosen-files.ts';
import { type ConnectionValues, formatOfText, says, valuesSchema } from '../draft.ts';
import { Setting } from '../setting.tsx';
import { FileReading } from './file-reading.tsx';
import type { ConnectionFormProps, ConnectionRoom } from './kind.ts';
import { Address, isAddress, needsAddress, WRITING } from './reading.tsx';

const schema = valuesSchema(CONNECTIONS.file).superRefine(({ settings, file, stored }, context) => {
  const { address } = settings;
  if (address === undefined && !file && !stored.file)
    context.addIssue({ code: 'custom', path: ['file'], message: says('needsFile') });
  if (address !== undefined && !isAddress(address))
    context.addIssue({ code: 'custom', path: ['settings', 'address'], message: needsAddress });
});

const WAYS = ['upload', 'paste', 'address'] as const;

const Form = ({ allowed, seen }: ConnectionFormProps) => {
  const { t } = useTranslation();
  const {
    control,
    getValues,
    setValue,
    setError,
    formState: { errors },
  } = useFormContext<ConnectionValues<'file'>>();
  const settings = useWatch({ control, name: 'settings' });
  const isThere = useWatch({ control, name: 'file' }) !== null || getValues('stored.file');
  const [way, setWay] = useState<(typeof WAYS)[number]>(settings.address === undefined ? 'upload' : 'address');
  const [pasted, setPasted] = useState('');
  const put = ({ format, fileName, content, several }: ChosenFile): void => {
    const { address: _, several: __, sheet: ___, ...rest } = getValues('settings');
    setValue('settings', { ...rest, format, fileName, ...(several ? { several: true } : {}) }, { shouldDirty: true });
    // It is named after the file when it has no name yet.
    if (getValues('label') === '')
      setValue('label', fileName.replace(/\.[a-z]+(?=, |$)/gi, '').slice(0, 200), {
        shouldDirty: true,
        shouldValidate: true,
      });
    setValue('file', content, { shouldDirty: true, shouldValidate: true });
  };
  const take = (files: FileList | null): void => {
    if (!files || files.length === 0) return;
    void chosenFiles([...files])
      // A folder that is dropped, or a file that has changed, cannot be read.
      .catch(() => 'notReadable' as const)
      .then((chosen) => {
        if (typeof chosen === 'string') setError('file', { message: says(chosen) });
        else put(chosen);
      });
  };
  return (
    <>
      <Setting label={t('data.fileBy')}>
        <Select
          label={t('data.fileBy')}
          value={way}
          choices={WAYS.map((value) => ({ value, label: t(`data.by_${value}`) }))}
          onPick={(next) => {
            setWay(next);
            const { address: _, ...rest } = getValues('settings');
            setValue('settings', next === 'address' ? { ...rest, address: 'https://' } : rest, { shouldDirty: true });
          }}
        />
      </Setting>
      {way === 'upload' && (
        <Setting
          label={t('data.file')}
          help={isThere && settings.fileName ? t('data.fileThere', { name: settings.fileName }) : t('data.fileHelp')}
          problem={errors.file}
        >
          {/* biome-ignore lint/a11y/noStaticElementInteractions: the box inside takes files by keyboard */}
          <span
            className="block rounded border border-dashed border-rule bg-paper p-3"
            onDragOver={(e) => e.preventDefault()}
            onDrop={(e) => {
              e.preventDefault();
              take(e.dataTransfer.files);
            }}
          >
            <input
              type="file"
              multiple
              aria-label={t('data.chooseFiles')}
              accept=".csv,.tsv,.txt,.json,.geojson,.xml,.xlsx,.zip"
              className="max-w-full"
              onChange={(e) => take(e.target.files)}
            />
            <label className="mt-1.5 flex items-center gap-2 text-ink-2">
              {t('data.chooseFolder')}
              <input
                type="file"
                // A folder is chosen whole (File and Directory Entries API).
                {...{ webkitdirectory: '' }}
                className="max-w-full"
                onChange={(e) => take(e.target.files)}
              />
            </label>
          </span>
        </Setting>
      )}
      {way === 'paste' && (
        <Setting label={t('data.pasted')} problem={errors.file}>
          <textarea
            className="h-32 w-full rounded border border-rule bg-paper p-2 font-mono text-[12px]"
            value={pasted}
            onChange={(e) => {
              const text = e.target.value;
              setPasted(text);
              const format = formatOfText(text);
              put({ format, fileName: `${t('data.pastedName')}.${format}`, content: new Blob([text]), several: false });
            }}
          />
        </Setting>
      )}
      {way === 'address' && <Address allowed={allowed} />}
      <FileReading seen={seen} />
    </>
  );
};

export const fileRoom: ConnectionRoom<'file'> = {
  Picture: FileUp,
  begin: () => ({ kind: 'file', format: 'csv', fileName: '', ...WRITING }),
  schema,
  Form,
  hasSecret: false,
  isSeenAtOnce: true,
  shows: 'rows',
};
