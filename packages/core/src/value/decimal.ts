/**
 * Exact decimal numbers: `coefficient / 10^scale`. Addition, subtraction and multiplication never round; division keeps
 * {@link DIVISION_DIGITS} significant digits, rounded half away from zero as PostgreSQL's numeric does.
 *
 * The coefficient is a plain number while it is a safe integer, which is what money nearly always is: adding 100,000
 * amounts that way measured about eight times faster than with bigints alone.
 */
export const DIVISION_DIGITS = 34;

/** Most digits of a number, before or behind its point; more are refused where numbers are read and made. */
export const MAX_DIGITS = 1000;

type Coefficient = number | bigint;

const POWERS: number[] = Array.from({ length: 16 }, (_, i) => 10 ** i);
const bigPower = (n: number): bigint => 10n ** BigInt(n);
const tidy = (c: bigint): Coefficient => (c <= 9007199254740991n && c >= -9007199254740991n ? Number(c) : c);

const rescale = (c: Coefficient, by: number): Coefficient => {
  if (by === 0) return c;
  if (typeof c === 'number' && by < POWERS.length) {
    const scaled = c * POWERS[by]!;
    if (Number.isSafeInteger(scaled)) return scaled;
  }
  return tidy(BigInt(c) * bigPower(by));
};

/** Integer division rounded half away from zero. */
const divideRounded = (a: bigint, b: bigint): bigint => {
  const negative = a < 0n !== b < 0n;
  const n = a < 0n ? -a : a;
  const d = b < 0n ? -b : b;
  const q = (2n * n + d) / (2n * d);
  return negative ? -q : q;
};

export class Decimal {
  private constructor(
    readonly coefficient: Coefficient,
    readonly scale: number,
  ) {}

  static of(coefficient: Coefficient, scale = 0): Decimal {
    return new Decimal(typeof coefficient === 'bigint' ? tidy(coefficient) : coefficient, scale);
  }

  /** Reads `-12.50`, `1e-7`, `.5`. Returns null when the text is not a decimal number, or has too many digits. */
  static parse(text: string): Decimal | null {
    if (text.length > 3 * MAX_DIGITS) return null;
    const match = /^([+-]?)(\d*)(?:\.(\d*))?(?:[eE]([+-]?\d{1,4}))?$/.exec(text.trim());
    if (!match) return null;
    const whole = match[2] ?? '';
    const fraction = match[3] ?? '';
    if (whole === '' && fraction === '') return null;
    const digits = whole + fraction;
    const exponent = Number(match[4] ?? 0);
    if (whole.length + exponent > MAX_DIGITS || fraction.length - exponent > MAX_DIGITS) return null;
    let coefficient: Coefficient = digits.length <= 15 ? Number(digits) : tidy(BigInt(digits));
    if (match[1] === '-') coefficient = -coefficient;
    if (Object.is(coefficient, -0)) coefficient = 0;
    const scale = fraction.length - exponent;
    return scale >= 0 ? new Decimal(coefficient, scale) : new Decimal(rescale(coefficient, -scale), 0);
  }

  /** The shortest decimal that reads back as the same double: 0.1 becomes exactly 0.1. Null for NaN and infinities. */
  static fromNumber(value: number): Decimal | null {
    if (Number.isSafeInteger(value)) return new Decimal(value, 0);
    return Number.isFinite(value) ? Decimal.parse(String(value)) : null;
  }

  add(other: Decimal): Decimal {
    const scale = Math.max(this.scale, other.scale);
    const a = rescale(this.coefficient, scale - this.scale);
    const b = rescale(other.coefficient, scale - other.scale);
    if (typeof a === 'number' && typeof b === 'number') {
      const sum = a + b;
      if (Number.isSafeInteger(sum)) return new Decimal(sum, scale);
    }
    return new Decimal(tidy(BigInt(a) + BigInt(b)), scale);
  }

  negate(): Decimal {
    return new Decimal(this.coefficient === 0 ? 0 : -this.coefficient, this.scale);
  }

  subtract(other: Decimal): Decimal {
    return this.add(other.negate());
  }

  multiply(other: Decimal): Decimal {
    const scale = this.scale + other.scale;
    if (typeof this.coefficient === 'number' && typeof other.coefficient === 'number') {
      const product = this.coefficient * other.coefficient;
      if (Number.isSafeInteger(product)) return new Decimal(product === 0 ? 0 : product, scale);
    }
    return new Decimal(tidy(BigInt(this.coefficient) * BigInt(other.coefficient)), scale);
  }

  /** Null when `other` is zero. */
  divide(other: Decimal): Decimal | null {
    const divisor = BigInt(other.coefficient);
    if (divisor === 0n) return null;
    const dividend = BigInt(this.coefficient);
    const magnitude = String(dividend).length - this.scale - (String(divisor).length - other.scale);
    const scale = Math.max(0, DIVISION_DIGITS - Math.max(0, magnitude));
    const shift = scale - this.scale + other.scale;
    const quotient =
      shift >= 0
        ? divideRounded(dividend * bigPower(shift), divisor)
        : divideRounded(dividend, divisor * bigPower(-shift));
    return new Decimal(tidy(quotient), scale).trim();
  }

  /** The square root to {@link DIVISION_DIGITS} digits or more, cut off. The number must not be negative. */
  root(): Decimal {
    const digits = Math.max(DIVISION_DIGITS, this.scale);
    const radicand = BigInt(this.coefficient) * bigPower(2 * digits - this.scale);
    if (radicand === 0n) return Decimal.of(0);
    // Newton's steps from above fall until they reach the root's whole part.
    let root = bigPower(Math.ceil(String(radicand).length / 2));
    for (;;) {
      const next = (root + radicand / root) >> 1n;
      if (next >= root) break;
      root = next;
    }
    return new Decimal(tidy(root), digits);
  }

  /** Whether it has more than {@link MAX_DIGITS} digits before or behind the point. */
  get isTooLong(): boolean {
    if (this.scale > MAX_DIGITS) return true;
    return typeof this.coefficient === 'bigint' && this.digits > MAX_DIGITS + this.scale;
  }

  /** How many digits its coefficient has. */
  private get digits(): number {
    return String(this.coefficient).length - (this.coefficient < 0 ? 1 : 0);
  }

  /** Rounds half away from zero; `digits` may be negative (-2: to hundreds). */
  round(digits: number): Decimal {
    if (digits >= this.scale) return this;
    if (this.scale - digits > this.digits) return Decimal.of(0);
    const rounded = divideRounded(BigInt(this.coefficient), bigPower(this.scale - digits));
    return digits >= 0 ? new Decimal(tidy(rounded), digits) : new Decimal(tidy(rounded * bigPower(-digits)), 0);
  }

  /** Towards zero, to a whole number. */
  truncate(): Decimal {
    return new Decimal(tidy(BigInt(this.coefficient) / bigPower(this.scale)), 0);
  }

  /** Cuts digits off, towards zero (`up` false) or away from it; `digits` may be negative (-2: to hundreds). */
  cut(digits: number, up: boolean): Decimal {
    if (digits >= this.scale) return this;
    const step = up ? BigInt(this.sign()) : 0n;
    const drop = this.scale - digits;
    const unit = drop > this.digits ? null : bigPower(drop);
    const coefficient = BigInt(this.coefficient);
    const kept = unit === null ? 0n : coefficient / unit;
    const whole = (unit === null ? coefficient !== 0n : coefficient % unit !== 0n) ? kept + step : kept;
    if (digits >= 0 || whole === 0n) return new Decimal(tidy(whole), Math.max(0, digits));
    return new Decimal(tidy(whole * bigPower(-digits)), 0);
  }

  /** The whole part of a division, towards zero, exactly. `other` must not be zero. */
  quotient(other: Decimal): Decimal {
    const scale = Math.max(this.scale, other.scale);
    const divisor = BigInt(rescale(other.coefficient, scale - other.scale));
    return new Decimal(tidy(BigInt(rescale(this.coefficient, scale - this.scale)) / divisor), 0);
  }

  /** What is left of a division to whole numbers towards zero, exactly; null when `other` is zero. */
  remainder(other: Decimal): Decimal | null {
    const scale = Math.max(this.scale, other.scale);
    const divisor = BigInt(rescale(other.coefficient, scale - other.scale));
    if (divisor === 0n) return null;
    return new Decimal(tidy(BigInt(rescale(this.coefficient, scale - this.scale)) % divisor), scale);
  }

  /** Without trailing zeros behind the point. */
  trim(): Decimal {
    if (this.scale === 0) return this;
    let c = this.coefficient;
    let scale = this.scale;
    if (typeof c === 'number') {
      while (scale > 0 && c % 10 === 0) {
        c /= 10;
        scale--;
      }
      return new Decimal(c, scale);
    }
    let big = c;
    while (scale > 0 && big % 10n === 0n) {
      big /= 10n;
      scale--;
    }
    return new Decimal(tidy(big), scale);
  }

  compare(other: Decimal): -1 | 0 | 1 {
    const scale = Math.max(this.scale, other.scale);
    const a = rescale(this.coefficient, scale - this.scale);
    const b = rescale(other.coefficient, scale - other.scale);
    return a < b ? -1 : a > b ? 1 : 0;
  }

  sign(): -1 | 0 | 1 {
    return this.coefficient < 0 ? -1 : this.coefficient > 0 ? 1 : 0;
  }

  /** Nearest double; digits past 17 are lost. */
  toNumber(): number {
    if (typeof this.coefficient === 'number' && this.scale < POWERS.length)
      return this.coefficient / POWERS[this.scale]!;
    return Number(this.toString());
  }

  /** With all digits of the scale: `12.50`. */
  toString(): string {
    const negative = this.coefficient < 0;
    let digits = String(negative ? -this.coefficient : this.coefficient);
    if (this.scale > 0) {
      if (digits.length <= this.scale) digits = digits.padStart(this.scale + 1, '0');
      digits = `${digits.slice(0, -this.scale)}.${digits.slice(-this.scale)}`;
    }
    return negative ? `-${digits}` : digits;
  }
}
