import type { Heading, Page, PlaceInRun } from '@gaveta/core/internal';

/** Headings and anchors that are kept of one run; those after that many are left out. */
const MOST = 50_000;

/** The outline of pages, and the places that links lead to. */
export interface Navigation {
  headings: Heading[];
  anchors: [name: string, PlaceInRun][];
}

/** What of a page belongs to its run's navigation. */
export const navigationOf = (page: Page): Navigation => {
  const found: Navigation = { headings: [], anchors: [] };
  for (const mark of page.marks) {
    if (mark.kind === 'outline')
      found.headings.push({ level: mark.level, title: mark.title, page: page.number, y: mark.y });
    else if (mark.kind === 'anchor') found.anchors.push([mark.name, { page: page.number, y: mark.y }]);
  }
  return found;
};

/** The navigation of a run, as its pages bring it. */
export class RunNavigation {
  readonly headings: Heading[] = [];
  private readonly anchors = new Map<string, PlaceInRun>();

  add({ headings, anchors }: Navigation): void {
    for (const heading of headings) if (this.headings.length < MOST) this.headings.push(heading);
    for (const [name, place] of anchors) {
      if (this.anchors.size < MOST && !this.anchors.has(name)) this.anchors.set(name, place);
    }
  }

  /** Takes what lies on the first `count` pages of another run. */
  take(before: RunNavigation, count: number): void {
    const anchors = [...before.anchors].filter(([, { page }]) => page <= count);
    this.add({ headings: before.headings.filter(({ page }) => page <= count), anchors });
  }

  anchor(name: string): PlaceInRun | null {
    return this.anchors.get(name) ?? null;
  }
}
