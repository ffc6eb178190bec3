import type { OutputFacts } from '../../api/client.ts';
import { useTranslation } from '../../i18n/use-translation.ts';

/** Words for outputs and their options. Those that a host added have what they say of themselves. */
export const useExportWords = () => {
  const { t, i18n } = useTranslation();
  const known = (key: string, otherwise: string): string =>
    i18n.exists(`export.${key}`) ? t(`export.${key}` as 'export.title') : otherwise;
  return {
    format: ({ name, label }: OutputFacts): string => known(`format_${name}`, label),
    help: ({ name }: OutputFacts): string => known(`help_${name}`, ''),
    option: (name: string): string => known(`option_${name}`, name),
    value: (option: string, value: string): string => known(`value_${option}_${value.replace(/\W/g, '_')}`, value),
  };
};
