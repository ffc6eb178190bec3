/** An entry of the outline where it stands. */
export interface OutlineEntry {
  /** From 1. */
  level: number;
  title: string;
  /** 1-based, of all pages, and of those since the numbering last started anew. */
  page: number;
  partNumber: number;
}

/** By which links lead to an entry, by its 0-based place. */
export const entryAnchor = (place: number): string => `contents entry ${place + 1}`;

/**
 * The outline of a run. A list of contents may stand in front of what it lists, so that its length must be known before:
 * a run that has one is laid out twice, first to count the entries of each level.
 */
export class Outline {
  readonly entries: OutlineEntry[] = [];

  constructor(
    /** Levels of the entries that there will be, in their order; null while they are counted, or when nothing lists them. */
    private readonly levels: readonly number[] | null = null,
    /** Whether entries are kept, and get names that links lead to. */
    readonly isKept: boolean = false,
  ) {}

  /** Places of the entries down to a level, as far as they are known before the run. */
  expected(deepest: number): number[] {
    return (this.levels ?? []).flatMap((level, place) => (level <= deepest ? [place] : []));
  }
}
