import type { Parameter } from '@gaveta/core/internal';
import type { TFunction } from 'i18next';

/** What is said where nothing was chosen for a parameter. */
export const allWords = ({ allLabel }: Parameter, t: TFunction): string => allLabel ?? t('viewer.all');
