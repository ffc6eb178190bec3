import type { Page, PlaceInRun } from '@gaveta/core/internal';

/** What a reader looks at while pages are laid out anew: a fold that was turned, or the rows at the top of the screen. */
export interface PlaceAsked {
  fold?: string | undefined;
  /** As regions name them: `hut:17/stay:2231`. */
  rows?: string | undefined;
  /** Where it stands on the pages before. */
  place?: PlaceInRun | undefined;
}

/** Finds on new pages what a reader looked at on old ones: the fold itself, or the rows that come closest. */
export class PlaceFinder {
  private readonly segments: string[];
  private score = 0;
  /** The best place so far; null as long as there is none. */
  place: PlaceInRun | null = null;
  /** No page will have a better one. */
  isFound = false;

  constructor(private readonly asked: PlaceAsked) {
    this.segments = asked.rows === undefined ? [] : asked.rows.split('/');
  }

  see({ number, marks }: Page): void {
    if (this.isFound) return;
    const { fold } = this.asked;
    for (const mark of marks) {
      if (mark.kind === 'fold' && mark.key === fold) {
        this.place = { page: number, y: mark.y };
        this.isFound = true;
        return;
      }
      if (mark.kind !== 'region' || this.segments.length === 0) continue;
      const score = this.scoreOf(mark.rows);
      if (score <= this.score) continue;
      this.score = score;
      this.place = { page: number, y: mark.y };
      if (fold === undefined && score === this.segments.length) {
        this.isFound = true;
        return;
      }
    }
  }

  /** The first `count` pages are as they were. */
  same(count: number): void {
    const { fold, place } = this.asked;
    if (fold !== undefined || !place || place.page > count) return;
    this.place = place;
    this.isFound = true;
  }

  /** How many of the rows are the same, outer ones first. */
  private scoreOf(rows: string): number {
    const given = rows.split('/');
    let same = 0;
    while (same < given.length && given[same] === this.segments[same]) same++;
    return same;
  }
}
