/** A statement as a database takes it, with the values of its placeholders. */
export interface Statement {
  text: string;
  values: (string | number | boolean | null)[];
  /** Statements that set the session up before, in the same transaction. */
  before?: string[];
}
