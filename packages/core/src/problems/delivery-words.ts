/** What is wrong with deliveries, and why they did not arrive. */
export const DELIVERY_WORDS = {
  'delivered-value-wrong': {
    says: 'The formula {formula} gives no value for “{name}”.',
    mend: 'Correct it, or give a value.',
  },
  'delivered-period-wrong': { says: '“{name}” takes no range of dates.', mend: 'Give it a value or a formula.' },
  'delivery-field-unknown': { says: 'The rows have no field “{name}”.', mend: '{hint}' },
  'delivery-needs-person': {
    says: 'It is not said who each part is for.',
    mend: 'Choose the field with the person’s name.',
  },
  'delivery-no-people': {
    says: 'The application does not tell Gaveta who its people are.',
    mend: 'Give addresses, or register “deliveries.people” with createGaveta.',
  },
  'delivery-no-files': {
    says: 'No file is chosen, so there is nothing to send there.',
    mend: 'Choose at least one format.',
  },
  'delivery-no-mail': {
    says: 'No mail server is registered.',
    mend: 'Register “deliveries.mail” with createGaveta, or send it elsewhere.',
  },
  'delivery-target-unknown': { says: 'The application registered no “{name}”.', mend: '{hint}' },
  'delivery-right-gone': {
    says: '“{name}” may not run this report any more.',
    mend: 'Give them the right again, or let somebody else create the delivery.',
  },
  'delivery-report-gone': { says: 'The report is not there any more.', mend: 'Restore it, or choose another one.' },
  'delivery-owner-gone': {
    says: 'The application does not know “{name}” any more, or no longer lets them deliver.',
    mend: 'Let somebody else create the delivery.',
  },
  'delivery-no-address': {
    says: '“{name}” has no mail address.',
    mend: 'Add one in the application, or give another recipient.',
  },
  'delivery-wrong-address': { says: '“{name}” is no mail address.', mend: 'Correct it.' },
  'delivery-address-refused': {
    says: 'Mails may not go to “{name}”.',
    mend: 'The application allows other addresses alone.',
  },
  'delivery-person-unknown': {
    says: 'The application does not know “{name}”.',
    mend: 'Correct the name, or add the person.',
  },
  'delivery-no-parts': {
    says: 'There is nobody to send it to: the rows that get a part each are none.',
    mend: 'Change which rows they are.',
  },
  'delivery-too-many-parts': {
    says: 'The rows that get a part each are more than {limit}.',
    mend: 'Narrow them with a condition.',
  },
  'delivery-not-made': { says: '{detail}', mend: '' },
  'delivery-not-sent': { says: 'It could not be sent: {detail}', mend: '' },
  'delivery-too-large': {
    says: 'The files have {size}; one mail takes at most {limit}.',
    mend: 'Choose fewer formats, or send them elsewhere.',
  },
  'delivery-nobody': { says: 'There is nobody to send it to.', mend: 'Check the recipients.' },
} as const;
