import {
  type Model,
  type Report,
  readTranslations,
  rowsToTranslate,
  type SpokenText,
  type Translation,
  takeTranslations,
  translationsAsCsv,
  translationsAsXliff,
} from '@gaveta/core/internal';
import { DropdownMenu } from 'radix-ui';
import { useRef } from 'react';
import { languageName } from '../../i18n/language-name.ts';
import { useTranslation } from '../../i18n/use-translation.ts';
import { Button } from '../../ui/controls.tsx';
import { download } from '../../ui/download.ts';
import { MenuLine } from '../../ui/menu-line.tsx';
import { useDesigner } from '../design/state.ts';
import { withTranslation } from './translation-edits.ts';

/** Bytes of a file of translations that are read. */
const MOST_BYTES = 20_000_000;
/** Texts that are named in a notice. */
const NAMED = 5;

interface FileProps {
  report: Report;
  translation: Translation;
  spoken: readonly SpokenText[];
  models: readonly Model[];
  onNotice: (words: string) => void;
}

/** Gives the texts to whoever translates as a file, and takes them back. */
export const FileButtons = ({ report, translation, spoken, models, onNotice }: FileProps) => {
  const { t, i18n } = useTranslation();
  const input = useRef<HTMLInputElement>(null);
  const { language } = translation;
  const write = async (as: 'csv' | 'xlf'): Promise<void> => {
    const rows = rowsToTranslate(report, language, models);
    const text =
      as === 'csv' ? await translationsAsCsv(rows) : translationsAsXliff(rows, { from: report.language, to: language });
    const type = as === 'csv' ? 'text/csv' : 'application/xliff+xml';
    download(new Blob([text], { type }), `${report.name} ${language}.${as}`);
  };
  const take = async (file: File): Promise<void> => {
    const { name } = file;
    if (file.size > MOST_BYTES) return onNotice(t('languages.tooLarge', { name }));
    const read = await readTranslations(name, await file.text(), language);
    if ('refused' in read) {
      const other = read.refused === 'language' ? languageName(read.language, i18n.language) : '';
      return onNotice(t(`languages.refused_${read.refused}`, { name, language: other }));
    }
    const taken = takeTranslations(translation.texts, read.rows, spoken);
    if (taken.changed > 0)
      useDesigner
        .getState()
        .edit(
          t('languages.taken', { name }),
          withTranslation(report, language, { ...translation, texts: taken.texts }),
        );
    const listed = (code: 'unknown' | 'unevenIn', texts: readonly string[]): string[] =>
      texts.length === 0
        ? []
        : [t(`languages.${code}`, { count: texts.length, texts: texts.slice(0, NAMED).join('”, “') })];
    const count = t('languages.changed', { count: taken.changed });
    onNotice([count, ...listed('unknown', taken.unknown), ...listed('unevenIn', taken.uneven)].join('\n'));
  };
  return (
    <>
      <input
        ref={input}
        type="file"
        accept=".csv,.txt,.xlf,.xliff"
        className="hidden"
        aria-label={t('languages.file')}
        onChange={(event) => {
          const [file] = event.target.files ?? [];
          event.target.value = '';
          if (file) void take(file);
        }}
      />
      <Button onClick={() => input.current?.click()}>{t('languages.import')}</Button>
      <DropdownMenu.Root>
        <DropdownMenu.Trigger asChild>
          <Button>{t('languages.export')}</Button>
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content className="menu z-60" align="end">
            <MenuLine onSelect={() => void write('csv')}>{t('languages.csv')}</MenuLine>
            <MenuLine onSelect={() => void write('xlf')}>{t('languages.xliff')}</MenuLine>
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
    </>
  );
};
