/** Signs of windows-1252 past those that it shares with Latin 1, from 0x80 on (WHATWG Encoding, index windows-1252). */
const SIGNS = '€\u0081‚ƒ„…†‡ˆ‰Š‹Œ\u008dŽ\u008f\u0090‘’“”•–—˜™š›œ\u009džŸ';
const FIRST = 0x80;
const QUESTION_MARK = 0x3f;
const BYTES = new Map([...SIGNS].map((sign, i) => [sign, FIRST + i]));

/** Text as bytes of windows-1252; what it lacks becomes a question mark. */
export const toWindows1252 = (text: string): Uint8Array =>
  Uint8Array.from([...text], (sign) => {
    const code = sign.codePointAt(0)!;
    return code < FIRST || (code >= 0xa0 && code <= 0xff) ? code : (BYTES.get(sign) ?? QUESTION_MARK);
  });

/** Bytes of windows-1252 as text. Node’s own decoder takes them for Latin 1 in some versions. */
export const fromWindows1252 = (bytes: Uint8Array): string =>
  new TextDecoder('latin1').decode(bytes).replace(/[\u0080-\u009f]/g, (sign) => SIGNS[sign.charCodeAt(0) - FIRST]!);
