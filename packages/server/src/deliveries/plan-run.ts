import {
  addressSchema,
  type Delivery,
  deliveredValues,
  type Field,
  type Problem,
  problem,
  type Recipient,
  type Report,
  scopesOf,
  type Target,
  type Value,
  valueText,
} from '@gaveta/core/internal';
import type { Caller } from '../services/call.ts';
import type { PlannedContent } from '../store/delivery-records.ts';
import { decodedRow, type EachRows } from './each-rows.ts';
import type { People, Person } from './options.ts';
import { notDelivered } from './outcome.ts';

/** Rows of one run that get a part each. */
export const MOST_PARTS = 5000;

/** What a run is planned with. */
export interface Planning {
  delivery: Delivery;
  report: Report;
  /** When it is due, in milliseconds since 1970. */
  dueAt: number;
  owner: Caller;
  people: People | null;
  /** Throws NotDelivered where mails may not go to an address. */
  checkAddress: (address: string) => void;
  rows: (steps: NonNullable<Delivery['each']>['steps'], most: number) => Promise<EachRows>;
}

/** People are asked for once in a run. */
class KnownPeople {
  private readonly found = new Map<string, Promise<Person | null>>();

  constructor(private readonly people: People | null) {}

  person(user: string): Promise<Person | null> {
    const known = this.found.get(user);
    if (known) return known;
    const asked = Promise.resolve(this.people?.person(user) ?? null);
    this.found.set(user, asked);
    return asked;
  }

  async members(group: string): Promise<readonly Person[]> {
    return (await this.people?.members?.(group)) ?? [];
  }
}

/** Somebody a mail goes to, or why it cannot. */
type Found = { address: string; said?: undefined } | { address: string; said: Problem };

const mailOf = (user: string, person: Person | null): Found => {
  if (!person) return { address: user, said: problem('delivery-person-unknown', {}, { name: user }) };
  return person.mail === undefined
    ? { address: user, said: problem('delivery-no-address', {}, { name: user }) }
    : { address: person.mail };
};

/** The addresses of a field: one, or several with commas or semicolons between them. */
const addressesIn = (text: string): Found[] =>
  text
    .split(/[,;]/)
    .map((part) => part.trim())
    .filter((part) => part !== '')
    .map((address) =>
      addressSchema.safeParse(address).success
        ? { address }
        : { address, said: problem('delivery-wrong-address', {}, { name: address }) },
    );

/** What a run is made of: a content for each row, or one alone, with each place where it goes. Throws NotDelivered. */
export const plannedContents = async (planning: Planning): Promise<PlannedContent[]> => {
  const { delivery, report, dueAt, people, rows } = planning;
  const { each, values, to } = delivery;
  const known = new KnownPeople(people);
  if (!each) {
    const scope = scopesOf({ report, fields: null }, dueAt).values;
    const worked = deliveredValues(values, report.parameters, scope);
    const parts = await partsOf(to, planning, known, null, null);
    return [{ label: '', row: null, person: null, values: worked.values, said: worked.problems[0] ?? null, parts }];
  }
  const found = await rows(each.steps, MOST_PARTS + 1);
  if (found.rows.length > MOST_PARTS) throw notDelivered('delivery-too-many-parts', { limit: MOST_PARTS });
  const scope = scopesOf({ report, fields: found.fields }, dueAt).values;
  const contents: PlannedContent[] = [];
  for (const row of found.rows) {
    const decoded = decodedRow(row, found.fields);
    const field = (name: string): string =>
      valueText(decoded[found.fields.findIndex((one) => one.name === name)] ?? null);
    const person = each.person === undefined ? null : field(each.person);
    const worked = deliveredValues(values, report.parameters, scope, decoded);
    const parts = await partsOf(to, planning, known, person, field);
    const label = person ?? labelOf(found.fields, decoded);
    contents.push({ label, row, person, values: worked.values, said: worked.problems[0] ?? null, parts });
  }
  return contents;
};

/** What a row is told apart by: its first text. */
export const labelOf = (fields: readonly Field[], row: readonly Value[]): string => {
  const at = fields.findIndex(({ type }) => type === 'text');
  return valueText(row[at < 0 ? 0 : at] ?? null);
};

const partsOf = async (
  targets: readonly Target[],
  planning: Planning,
  known: KnownPeople,
  person: string | null,
  field: ((name: string) => string) | null,
): Promise<PlannedContent['parts']> => {
  const parts: PlannedContent['parts'] = [];
  for (const [target, one] of targets.entries()) {
    if (one.kind !== 'mail') {
      parts.push({ target, kind: one.kind, to: one.kind === 'kept' ? '' : one.name });
      continue;
    }
    const found = new Map<string, Found>();
    for (const recipient of one.to)
      for (const mail of await mailsOf(recipient, known, person, field)) found.set(mail.address.toLowerCase(), mail);
    const mails = [...found.values()].map((mail) => checked(mail, planning));
    const good = mails.filter((mail) => mail.said === undefined);
    if (one.together && good.length > 0)
      parts.push({ target, kind: 'mail', to: good.map(({ address }) => address).join(', ') });
    else parts.push(...good.map(({ address }) => ({ target, kind: 'mail' as const, to: address })));
    for (const { address, said } of mails) if (said) parts.push({ target, kind: 'mail', to: address, said });
    if (mails.length === 0) parts.push({ target, kind: 'mail', to: '', said: problem('delivery-nobody', {}, {}) });
  }
  return parts;
};

const checked = (mail: Found, { checkAddress }: Planning): Found => {
  if (mail.said) return mail;
  try {
    checkAddress(mail.address);
    return mail;
  } catch (error) {
    return { address: mail.address, said: (error as { said: Problem }).said };
  }
};

const mailsOf = async (
  recipient: Recipient,
  known: KnownPeople,
  person: string | null,
  field: ((name: string) => string) | null,
): Promise<Found[]> => {
  if ('address' in recipient) return [recipient];
  if ('user' in recipient) return [mailOf(recipient.user, await known.person(recipient.user))];
  if ('group' in recipient) return (await known.members(recipient.group)).map((member) => mailOf(member.user, member));
  if ('field' in recipient) return addressesIn(field?.(recipient.field) ?? '');
  return person === null ? [] : [mailOf(person, await known.person(person))];
};
