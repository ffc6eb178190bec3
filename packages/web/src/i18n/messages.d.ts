import 'i18next';
import type en from './en.json';

/** Keys of messages are checked, those that are built from parts too: each of a union's members must be there. */
declare module 'i18next' {
  interface CustomTypeOptions {
    resources: { translation: typeof en };
  }
}
