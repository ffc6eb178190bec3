import { THEMES, type Theme } from '@gaveta/core/internal';
import type { TFunction } from 'i18next';

/** What a theme is called in the reader's language; those of the host have one name. */
export const themeLabel = (t: TFunction, { name }: Theme): string =>
  THEMES.some((own) => own.name === name) ? t(`theme.${name}`, { defaultValue: name }) : name;
