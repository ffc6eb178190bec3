/**
 * Messages of the Internet Printing Protocol as bytes (RFC 8010). Only what printing a file takes: collections are read over, and
 * never written.
 */

/** Groups of attributes (RFC 8010, section 3.5.1). */
export const GROUPS = { operation: 1, job: 2, printer: 4, unsupported: 5 } as const;
export type IppGroup = keyof typeof GROUPS;

/** Types of values and their tags (RFC 8010, section 3.5.2). */
const TAGS = {
  'no-value': 0x13,
  integer: 0x21,
  boolean: 0x22,
  enum: 0x23,
  dateTime: 0x31,
  resolution: 0x32,
  range: 0x33,
  text: 0x41,
  name: 0x42,
  keyword: 0x44,
  uri: 0x45,
  uriScheme: 0x46,
  charset: 0x47,
  language: 0x48,
  mime: 0x49,
} as const;
export type IppType = keyof typeof TAGS;

const TYPES = new Map<number, IppType>(Object.entries(TAGS).map(([type, tag]) => [tag, type as IppType]));
const COLLECTION = 0x34;
const COLLECTION_END = 0x37;
const END = 3;

export type IppValue = string | number | boolean | readonly [number, number] | Date | null;

export interface IppAttribute {
  name: string;
  type: IppType;
  values: IppValue[];
}

export interface IppMessage {
  /** As 0x0200 of version 2.0. */
  version: number;
  /** Of a request the operation, of an answer the status. */
  code: number;
  requestId: number;
  /** In the order in which they come; a group may come several times, as one for each job. */
  groups: { group: IppGroup; attributes: IppAttribute[] }[];
}

/** Values of one message. */
const MOST_VALUES = 5000;

/** What is no message, or says that it is longer than it is. */
export class IppError extends Error {}

export const attribute = (name: string, type: IppType, ...values: IppValue[]): IppAttribute => ({ name, type, values });

const bytesOf = (type: IppType, value: IppValue): Buffer => {
  switch (type) {
    case 'no-value':
      return Buffer.alloc(0);
    case 'integer':
    case 'enum': {
      const bytes = Buffer.alloc(4);
      bytes.writeInt32BE(Number(value));
      return bytes;
    }
    case 'boolean':
      return Buffer.from([value ? 1 : 0]);
    case 'range': {
      const [low, high] = value as readonly [number, number];
      const bytes = Buffer.alloc(8);
      bytes.writeInt32BE(low);
      bytes.writeInt32BE(high, 4);
      return bytes;
    }
    case 'resolution': {
      const [across, down] = value as readonly [number, number];
      const bytes = Buffer.alloc(9);
      bytes.writeInt32BE(across);
      bytes.writeInt32BE(down, 4);
      // Dots per inch.
      bytes[8] = 3;
      return bytes;
    }
    case 'dateTime': {
      // RFC 2579: a year of two bytes, then month, day, hour, minute, second, tenths, and the zone.
      const at = value as Date;
      const bytes = Buffer.alloc(11);
      bytes.writeUInt16BE(at.getUTCFullYear());
      bytes.set([at.getUTCMonth() + 1, at.getUTCDate(), at.getUTCHours(), at.getUTCMinutes(), at.getUTCSeconds()], 2);
      bytes[8] = '+'.charCodeAt(0);
      return bytes;
    }
    default:
      return Buffer.from(String(value), 'utf8');
  }
};

const readValue = (type: IppType, bytes: Buffer): IppValue => {
  switch (type) {
    case 'no-value':
      return null;
    case 'integer':
    case 'enum':
      return bytes.length === 4 ? bytes.readInt32BE() : 0;
    case 'boolean':
      return bytes[0] === 1;
    case 'range':
    case 'resolution':
      return bytes.length >= 8 ? [bytes.readInt32BE(), bytes.readInt32BE(4)] : [0, 0];
    case 'dateTime': {
      if (bytes.length < 8) return null;
      const [month, day, hour, minute, second] = bytes.subarray(2, 7) as unknown as [
        number,
        number,
        number,
        number,
        number,
      ];
      return new Date(Date.UTC(bytes.readUInt16BE(), month - 1, day, hour, minute, second));
    }
    default:
      return bytes.toString('utf8');
  }
};

const short = (value: number): Buffer => {
  const bytes = Buffer.alloc(2);
  bytes.writeUInt16BE(value);
  return bytes;
};

/** A message as bytes, without what is printed. */
export const encodeIpp = ({ version, code, requestId, groups }: IppMessage): Buffer<ArrayBuffer> => {
  const head = Buffer.alloc(8);
  head.writeUInt16BE(version);
  head.writeUInt16BE(code, 2);
  head.writeInt32BE(requestId, 4);
  const parts: Buffer[] = [head];
  for (const { group, attributes } of groups) {
    parts.push(Buffer.from([GROUPS[group]]));
    for (const { name, type, values } of attributes)
      for (const [i, value] of values.entries()) {
        // Further values of an attribute come without its name.
        const named = Buffer.from(i === 0 ? name : '', 'utf8');
        const bytes = bytesOf(type, value);
        parts.push(Buffer.from([TAGS[type]]), short(named.length), named, short(bytes.length), bytes);
      }
  }
  parts.push(Buffer.from([END]));
  return Buffer.concat(parts);
};

/** Reads a message; `rest` is what is printed. Throws IppError. */
export const decodeIpp = (bytes: Buffer): { message: IppMessage; rest: Buffer } => {
  let at = 0;
  const take = (length: number): Buffer => {
    if (at + length > bytes.length) throw new IppError('The message is shorter than it says.');
    at += length;
    return bytes.subarray(at - length, at);
  };
  const head = take(8);
  const message: IppMessage = {
    version: head.readUInt16BE(),
    code: head.readUInt16BE(2),
    requestId: head.readInt32BE(4),
    groups: [],
  };
  let values = 0;
  let depth = 0;
  for (;;) {
    const tag = take(1)[0]!;
    if (tag === END) return { message, rest: bytes.subarray(at) };
    if (tag < 0x10) {
      const group = (Object.keys(GROUPS) as IppGroup[]).find((name) => GROUPS[name] === tag);
      // Groups that came later in the standard are read over.
      message.groups.push({ group: group ?? 'unsupported', attributes: [] });
      continue;
    }
    values++;
    if (values > MOST_VALUES) throw new IppError('The message has too many attributes.');
    const name = take(take(2).readUInt16BE()).toString('utf8');
    const value = take(take(2).readUInt16BE());
    if (tag === COLLECTION) depth++;
    if (tag === COLLECTION_END) depth--;
    const type = TYPES.get(tag);
    if (depth > 0 || tag === COLLECTION_END || type === undefined) continue;
    const attributes = message.groups.at(-1)?.attributes;
    if (!attributes) throw new IppError('An attribute stands outside of any group.');
    if (name !== '') attributes.push({ name, type, values: [readValue(type, value)] });
    else attributes.at(-1)?.values.push(readValue(type, value));
  }
};

/** The first value of an attribute in some group; undefined where there is none. */
export const ippValue = ({ groups }: IppMessage, group: IppGroup, name: string): IppValue | undefined => {
  for (const one of groups)
    if (one.group === group) for (const own of one.attributes) if (own.name === name) return own.values[0];
  return undefined;
};

/** What requests begin with (RFC 8011, section 4.1.4). */
export const ippOpening = (): IppAttribute[] => [
  attribute('attributes-charset', 'charset', 'utf-8'),
  attribute('attributes-natural-language', 'language', 'en'),
];
