/** Words that languages with an alphabet of their own put in another order than the Unicode root does. */
const PROBE =
  'a á à ä å æ aa A b c ç č ć ch cz cote côte coté côté d đ ð dz e é g ğ h i ı j k l ł lj ll m n ñ nj o ö ő ø œ p q r s š ş ß sz t þ u ü ű v w x y z ž а б в г ґ д е є ж з и і ї й к л ь э ю я'.split(
    ' ',
  );

const known = new Map<string, boolean>();

/**
 * Whether a language (BCP 47) puts texts in the order of the Unicode root collation (UTS 10, as CLDR has it), which
 * databases know: Portuguese and English do, Swedish and Spanish do not.
 */
export const isRootOrder = (language: string): boolean => {
  let same = known.get(language);
  if (same === undefined) {
    // English has no tailoring of its own; the root itself cannot be asked for by name everywhere.
    const root = [...PROBE].sort(new Intl.Collator('en').compare);
    const own = [...PROBE].sort(new Intl.Collator(language).compare);
    same = own.every((word, i) => word === root[i]);
    known.set(language, same);
  }
  return same;
};
