/** What a sheet can hold (ECMA-376; the limits of the programs that read it). */
export const MOST_ROWS = 1_048_576;
export const MOST_COLUMNS = 16_384;
