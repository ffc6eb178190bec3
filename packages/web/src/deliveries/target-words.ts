import type { Recipient, Target } from '@gaveta/core/internal';
import type { TFunction } from 'i18next';

/** Who gets a mail, in words. */
export const recipientWords = (recipient: Recipient, t: TFunction): string => {
  if ('address' in recipient) return recipient.address;
  if ('user' in recipient) return recipient.user;
  if ('group' in recipient) return t('deliveries.toGroup', { name: recipient.group });
  if ('field' in recipient) return t('deliveries.toField', { name: recipient.field });
  return t('deliveries.toPerson');
};

/** Where a delivery goes, in words. */
export const targetWords = (target: Target, t: TFunction, language: string): string => {
  switch (target.kind) {
    case 'mail': {
      const to = target.to.map((one) => recipientWords(one, t));
      return t('deliveries.target_mail', { to: new Intl.ListFormat(language).format(to) });
    }
    case 'folder':
      return t('deliveries.target_folder', { name: target.name });
    case 'address':
      return t('deliveries.target_address', { name: target.name });
    case 'printer':
      return t('deliveries.target_printer', { name: target.name, count: target.copies });
    case 'kept':
      return t('deliveries.target_kept');
    default:
      return target satisfies never;
  }
};
