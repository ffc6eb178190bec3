/** A text and what it is called in another language; empty where nobody has said it. */
export interface TranslatedRow {
  text: string;
  translation: string;
}

/** As it leaves for somebody who translates. */
export interface RowToTranslate extends TranslatedRow {
  /** Where it stands in the report, in words, and what the numbers in braces stand for. */
  note: string;
}
