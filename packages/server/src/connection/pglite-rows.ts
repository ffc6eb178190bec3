import type { PGlite } from '@electric-sql/pglite';

/** Values as they travel; null where there is none. */
export type WireValues = (string | number | boolean | null)[];

type Parser = (value: string) => string | number | boolean | null;

/** Messages of the server (PostgreSQL’s documentation, 54.7), by their first byte. */
const ROW_DESCRIPTION = 0x54;
const DATA_ROW = 0x44;
const ERROR = 0x45;

/** An error of the database, as its driver tells it. */
class AnsweredError extends Error {
  code = '';
  position: string | undefined = undefined;
}

/**
 * The rows of a statement without parameters. The driver makes an object of each message and a copy of each value, which takes twice as
 * long as finding the rows does; here values are cut from the answer itself. `parsers`: of types, before those of the database.
 */
export const rowsOf = async (
  database: PGlite,
  text: string,
  parsers: Readonly<Record<number, Parser>>,
): Promise<WireValues[]> => {
  const all = { ...(database.parsers as Record<number, Parser>), ...parsers };
  // A transaction waits for those of others, which a message by itself does not.
  return database.transaction(async () => {
    const parts: Uint8Array[] = [];
    // What comes is a view of memory that the database uses again.
    await database.execProtocolRawStream(question(text), { onRawData: (part) => void parts.push(part.slice()) });
    return readAnswer(Buffer.concat(parts), all);
  });
};

/** A simple query. */
const question = (text: string): Uint8Array => {
  const length = Buffer.byteLength(text);
  const message = Buffer.alloc(length + 6);
  message[0] = 0x51;
  message.writeInt32BE(length + 5, 1);
  message.write(text, 5);
  return message;
};

/** Rows in the messages of an answer. Throws the error that it tells. */
const readAnswer = (answer: Buffer, parsers: Readonly<Record<number, Parser>>): WireValues[] => {
  // Cutting a string that is there costs a fraction of decoding bytes for each value, which is left to those beyond ASCII.
  const whole = answer.toString('latin1');
  const cut = (from: number, to: number): string => {
    for (let at = from; at < to; at++) if (answer[at]! > 127) return answer.toString('utf8', from, to);
    // A longer cut would keep all of the answer in memory for as long as it is kept itself (V8 copies up to 12 characters).
    return to - from <= 12 ? whole.slice(from, to) : answer.toString('latin1', from, to);
  };
  const rows: WireValues[] = [];
  let columns: (Parser | null)[] = [];
  for (let at = 0; at + 5 <= answer.length; ) {
    const kind = answer[at];
    const end = at + 1 + answer.readInt32BE(at + 1);
    if (kind === DATA_ROW) {
      const values: WireValues = new Array(columns.length);
      let place = at + 7;
      for (let i = 0; i < columns.length; i++) {
        const length = answer.readInt32BE(place);
        place += 4;
        if (length < 0) {
          values[i] = null;
          continue;
        }
        const value = cut(place, place + length);
        const parse = columns[i];
        values[i] = parse ? parse(value) : value;
        place += length;
      }
      rows.push(values);
    } else if (kind === ROW_DESCRIPTION) columns = typesIn(answer, at + 5).map((type) => parsers[type] ?? null);
    else if (kind === ERROR) throw errorIn(answer, at + 5, end);
    at = end;
  }
  return rows;
};

/** The types of the columns in a description of rows. */
const typesIn = (answer: Buffer, from: number): number[] => {
  const types: number[] = [];
  let at = from + 2;
  for (let left = answer.readInt16BE(from); left > 0; left--) {
    at = answer.indexOf(0, at) + 1;
    types.push(answer.readInt32BE(at + 6));
    at += 18;
  }
  return types;
};

const errorIn = (answer: Buffer, from: number, end: number): AnsweredError => {
  const error = new AnsweredError();
  for (let at = from; at < end && answer[at] !== 0; ) {
    const field = String.fromCharCode(answer[at]!);
    const stop = answer.indexOf(0, at + 1);
    const value = answer.toString('utf8', at + 1, stop);
    if (field === 'M') error.message = value;
    else if (field === 'C') error.code = value;
    else if (field === 'P') error.position = value;
    at = stop + 1;
  }
  return error;
};
