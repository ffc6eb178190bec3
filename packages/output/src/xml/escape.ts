/** What XML 1.0 has no way to write (its section 2.2): control characters, characters without a partner, and two that are none. */
const UNFIT = /(?![\t\n\r\u0080-\u009F])\p{Cc}|\p{Cs}|[\uFFFE\uFFFF]/gu;

const ENTITIES: Readonly<Record<string, string>> = {
  '&': '&amp;',
  '<': '&lt;',
  '>': '&gt;',
  '"': '&quot;',
  '\r': '&#13;',
};

/** Text as it stands in an element or an attribute; what cannot be written is replaced. */
export const escapeXml = (text: string): string =>
  text.replace(UNFIT, '\uFFFD').replace(/[&<>"\r]/g, (sign) => ENTITIES[sign]!);

/** Text of an attribute: line ends and tabs stay what they are. */
export const escapeAttribute = (text: string): string =>
  escapeXml(text).replace(/[\n\t]/g, (sign) => `&#${sign.charCodeAt(0)};`);
