/** Writes a number as paths have it, to a hundredth of a point. */
const n = (value: number): string => String(Math.round(value * 100) / 100);

/** Distance of a curve’s handles for an arc of an angle, as a share of its radius. */
const handleFor = (angle: number): number => (4 / 3) * Math.tan(angle / 4);

const CIRCLE = 2 * Math.PI;

/**
 * Takes the steps that d3 draws with and writes them as the path of a mark, arcs as curves that miss them by less than a
 * three-thousandth of their radius. Lengths in points.
 */
export class Course {
  private readonly steps: { step: 'M' | 'L' | 'C' | 'Z'; places: readonly number[] }[] = [];
  private startX = 0;
  private startY = 0;
  private atX = 0;
  private atY = 0;

  private add(step: 'M' | 'L' | 'C' | 'Z', ...places: readonly number[]): void {
    this.steps.push({ step, places });
    if (places.length === 0) return;
    this.atX = places.at(-2)!;
    this.atY = places.at(-1)!;
  }

  moveTo(x: number, y: number): void {
    this.startX = x;
    this.startY = y;
    this.add('M', x, y);
  }

  lineTo(x: number, y: number): void {
    if (this.isEmpty) this.moveTo(x, y);
    else this.add('L', x, y);
  }

  bezierCurveTo(x1: number, y1: number, x2: number, y2: number, x: number, y: number): void {
    this.add('C', x1, y1, x2, y2, x, y);
  }

  quadraticCurveTo(x1: number, y1: number, x: number, y: number): void {
    const { atX, atY } = this;
    this.add(
      'C',
      atX + (2 / 3) * (x1 - atX),
      atY + (2 / 3) * (y1 - atY),
      x + (2 / 3) * (x1 - x),
      y + (2 / 3) * (y1 - y),
      x,
      y,
    );
  }

  /** Angles in radians, clockwise from three o’clock. */
  arc(x: number, y: number, radius: number, from: number, to: number, isBackwards = false): void {
    let sweep = to - from;
    if (isBackwards) sweep = sweep > 0 ? (sweep % CIRCLE) - CIRCLE : Math.max(sweep, -CIRCLE);
    else sweep = sweep < 0 ? (sweep % CIRCLE) + CIRCLE : Math.min(sweep, CIRCLE);
    const [startX, startY] = [x + radius * Math.cos(from), y + radius * Math.sin(from)];
    if (this.isEmpty) this.moveTo(startX, startY);
    else if (Math.hypot(startX - this.atX, startY - this.atY) > 1e-6) this.lineTo(startX, startY);
    if (radius <= 0) return;
    const parts = Math.max(1, Math.ceil(Math.abs(sweep) / (Math.PI / 2) - 1e-9));
    const step = sweep / parts;
    const handle = handleFor(step) * radius;
    for (let i = 0; i < parts; i++) {
      const [a, b] = [from + i * step, from + (i + 1) * step];
      const [ax, ay, bx, by] = [Math.cos(a), Math.sin(a), Math.cos(b), Math.sin(b)];
      this.bezierCurveTo(
        x + radius * ax - handle * ay,
        y + radius * ay + handle * ax,
        x + radius * bx + handle * by,
        y + radius * by - handle * bx,
        x + radius * bx,
        y + radius * by,
      );
    }
  }

  rect(x: number, y: number, width: number, height: number): void {
    this.moveTo(x, y);
    this.lineTo(x + width, y);
    this.lineTo(x + width, y + height);
    this.lineTo(x, y + height);
    this.closePath();
  }

  closePath(): void {
    this.add('Z');
    this.atX = this.startX;
    this.atY = this.startY;
  }

  get isEmpty(): boolean {
    return this.steps.length === 0;
  }

  /** The path from the top left corner of the box that it and the handles of its curves lie in. */
  mark(): { x: number; y: number; width: number; height: number; path: string } {
    let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
    for (const { places } of this.steps)
      for (let i = 0; i < places.length; i += 2) {
        left = Math.min(left, places[i]!);
        right = Math.max(right, places[i]!);
        top = Math.min(top, places[i + 1]!);
        bottom = Math.max(bottom, places[i + 1]!);
      }
    const path = this.steps
      .map(({ step, places }) => step + places.map((place, i) => n(place - (i % 2 === 0 ? left : top))).join(' '))
      .join('');
    return { x: left, y: top, width: right - left, height: bottom - top, path };
  }
}
