import { useQuery } from '@tanstack/react-query';
import { useParams } from 'react-router';
import { queries } from '../api/queries.ts';
import { useTranslation } from '../i18n/use-translation.ts';

/** Most characters of a report’s name. */
export const LONGEST_NAME = 200;

const alike = (name: string): string => name.trim().toLocaleLowerCase();

/** Says of a name that is typed when another report has it: both may have it, but are hard to tell apart. */
export const useNameHint = (): ((typed: string) => string | null) => {
  const { t } = useTranslation();
  const { id } = useParams();
  const { data: reports = [] } = useQuery(queries.reports());
  return (typed) =>
    reports.some((report) => report.id !== id && alike(report.name) === alike(typed)) ? t('designer.nameTaken') : null;
};
