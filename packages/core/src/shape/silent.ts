import type { DrawerVisitor, ShapeDrawer } from './shape.ts';

/** Is told of rows that are closed, and tells nobody: they are counted in totals all the same. */
export class SilentVisitor implements DrawerVisitor {
  constructor(
    private readonly drawer: ShapeDrawer,
    /** Takes what rows add to the page that their heading is on. */
    private readonly land: (landing: (() => void) | null) => void,
  ) {}

  begin(): void {}
  async header(): Promise<void> {}
  async groupBegins(): Promise<void> {}
  rowBegins(landing: (() => void) | null): void {
    this.land(landing);
  }
  hidden(landing: (() => void) | null): void {
    this.land(landing);
  }
  async detail(): Promise<void> {}
  async inner(walk: (place: number, visitor: DrawerVisitor) => Promise<void>): Promise<void> {
    for (const [place, inner] of this.drawer.drawers.entries()) await walk(place, new SilentVisitor(inner, this.land));
  }
  async rowEnds(): Promise<void> {}
  rowPassed(): void {}
  rowsComplete(): void {}
  async groupEnds(): Promise<void> {}
  async end(): Promise<void> {}
}
