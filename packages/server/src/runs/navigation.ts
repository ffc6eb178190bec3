import type { Heading, Page, PlaceInRun } from '@gaveta/core';

/** Headings and anchors that are kept of one run; those after that many are left out. */
const MOST = 50_000;

/** The outline of a run's pages, and the places that links lead to. */
export class RunNavigation {
  readonly headings: Heading[] = [];
  private readonly anchors = new Map<string, PlaceInRun>();

  add(page: Page): void {
    for (const mark of page.marks) {
      if (mark.kind === 'outline' && this.headings.length < MOST) {
        this.headings.push({ level: mark.level, title: mark.title, page: page.number, y: mark.y });
      } else if (mark.kind === 'anchor' && this.anchors.size < MOST && !this.anchors.has(mark.name)) {
        this.anchors.set(mark.name, { page: page.number, y: mark.y });
      }
    }
  }

  anchor(name: string): PlaceInRun | null {
    return this.anchors.get(name) ?? null;
  }
}
