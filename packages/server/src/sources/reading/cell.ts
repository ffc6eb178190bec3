/** A cell as a file or service gives it, before its column has a type. */
export type RawCell = string | number | boolean | Date | null;
