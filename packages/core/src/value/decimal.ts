/**
 * Exact decimal numbers: `coefficient / 10^scale`. Addition, subtraction and multiplication never round; division keeps
 * {@link DIVISION_DIGITS} significant digits, rounded half away from zero.
 *
 * A number that was rounded knows it, and so does what is made of it: two of which one was rounded are the same where they agree
 * in {@link AGREEING_DIGITS} digits, so that a third three times is 1. Exact numbers are the same where all their digits are.
 *
 * The coefficient is a plain number while it is a safe integer, which is what money nearly always is: adding 100,000
 * amounts that way measured about eight times faster than with bigints alone.
 */
export const DIVISION_DIGITS = 34;

/** Digits in which numbers agree that are the same but for what was rounded off on the way to them. */
export const AGREEING_DIGITS = 28;

/** Most digits of a number, before or behind its point; more are refused where numbers are read and made. */
export const MAX_DIGITS = 1000;

type Coefficient = number | bigint;

const POWERS: number[] = Array.from({ length: 16 }, (_, i) => 10 ** i);
const BIG_POWERS: bigint[] = Array.from({ length: 80 }, (_, i) => 10n ** BigInt(i));
const bigPower = (n: number): bigint => BIG_POWERS[n] ?? 10n ** BigInt(n);
/** Zeros that are taken off at once, and what they are. */
const TRIMMED = [16, 4, 1].map((zeros) => [zeros, 10n ** BigInt(zeros)] as const);
const tidy = (c: bigint): Coefficient => (c <= 9007199254740991n && c >= -9007199254740991n ? Number(c) : c);

const rescale = (c: Coefficient, by: number): Coefficient => {
  if (by === 0) return c;
  if (typeof c === 'number' && by < POWERS.length) {
    const scaled = c * POWERS[by]!;
    if (Number.isSafeInteger(scaled)) return scaled;
  }
  return tidy(BigInt(c) * bigPower(by));
};

/** A sum of numbers of which one was rounded: 0 where nothing but that is left of them. */
const settled = (sum: Coefficient, beside: Coefficient, scale: number): Decimal =>
  agrees(BigInt(sum), BigInt(beside)) ? Decimal.of(0) : Decimal.of(sum, scale).asRounded();

/** Integer division rounded half away from zero. */
const divideRounded = (a: bigint, b: bigint): bigint => {
  const negative = a < 0n !== b < 0n;
  const n = a < 0n ? -a : a;
  const d = b < 0n ? -b : b;
  const q = (2n * n + d) / (2n * d);
  return negative ? -q : q;
};

const digitsOf = (whole: Coefficient): number => {
  const text = String(whole);
  return whole < 0 ? text.length - 1 : text.length;
};

/** Whether a difference is nothing beside a number but what was rounded off. */
const agrees = (difference: bigint, beside: bigint): boolean => {
  if (difference === 0n) return true;
  const far = difference < 0n ? -difference : difference;
  return far * bigPower(AGREEING_DIGITS) < (beside < 0n ? -beside : beside);
};

export class Decimal {
  private constructor(
    readonly coefficient: Coefficient,
    readonly scale: number,
    /** Not exact: digits were rounded off on the way to it. */
    readonly rounded = false,
  ) {}

  static of(coefficient: Coefficient, scale = 0): Decimal {
    return new Decimal(typeof coefficient === 'bigint' ? tidy(coefficient) : coefficient, scale);
  }

  /** The same number, known to be rounded. */
  asRounded(): Decimal {
    return this.rounded ? this : new Decimal(this.coefficient, this.scale, true);
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
    const rounded = this.rounded || other.rounded;
    if (typeof a === 'number' && typeof b === 'number') {
      const sum = a + b;
      if (Number.isSafeInteger(sum)) return rounded ? settled(sum, a, scale) : new Decimal(sum, scale);
    }
    const sum = tidy(BigInt(a) + BigInt(b));
    return rounded ? settled(sum, a, scale) : new Decimal(sum, scale);
  }

  negate(): Decimal {
    return new Decimal(this.coefficient === 0 ? 0 : -this.coefficient, this.scale, this.rounded);
  }

  subtract(other: Decimal): Decimal {
    return this.add(other.negate());
  }

  multiply(other: Decimal): Decimal {
    const scale = this.scale + other.scale;
    const rounded = this.rounded || other.rounded;
    if (typeof this.coefficient === 'number' && typeof other.coefficient === 'number') {
      const product = this.coefficient * other.coefficient;
      if (Number.isSafeInteger(product)) return new Decimal(product === 0 ? 0 : product, scale, rounded);
    }
    const product = new Decimal(tidy(BigInt(this.coefficient) * BigInt(other.coefficient)), scale, rounded);
    // What was rounded has no more digits than a division keeps: others would only be carried along.
    return rounded ? product.significant(2 * DIVISION_DIGITS) : product;
  }

  /** Null when `other` is zero. */
  divide(other: Decimal): Decimal | null {
    const { coefficient: a } = this;
    const { coefficient: b } = other;
    if (b === 0) return null;
    if (a === 0) return new Decimal(0, 0);
    const rounded = this.rounded || other.rounded;
    if (typeof a === 'number' && typeof b === 'number' && a % b === 0) {
      const scale = this.scale - other.scale;
      return scale >= 0 ? new Decimal(a / b, scale, rounded).trim() : new Decimal(rescale(a / b, -scale), 0, rounded);
    }
    // The quotient has as many digits as this says, or one more.
    const magnitude = digitsOf(a) - this.scale - (digitsOf(b) - other.scale);
    const scale = Math.min(MAX_DIGITS, Math.max(0, DIVISION_DIGITS - magnitude));
    const shift = scale - this.scale + other.scale;
    const above = shift >= 0 ? BigInt(a) * bigPower(shift) : BigInt(a);
    const below = shift >= 0 ? BigInt(b) : BigInt(b) * bigPower(-shift);
    const quotient = above / below;
    const rest = above - quotient * below;
    if (rest === 0n) return new Decimal(tidy(quotient), scale, rounded).trim();
    const isUp = 2n * (rest < 0n ? -rest : rest) >= (below < 0n ? -below : below);
    const next = isUp ? (a < 0 === b < 0 ? quotient + 1n : quotient - 1n) : quotient;
    return new Decimal(tidy(next), scale, true).significant(DIVISION_DIGITS).trim();
  }

  /** The square root to {@link DIVISION_DIGITS} significant digits, rounded; exact where it is one. The number must not be negative. */
  root(): Decimal {
    const own = BigInt(this.coefficient);
    if (own === 0n) return Decimal.of(0);
    const magnitude = Math.floor((digitsOf(this.coefficient) - this.scale) / 2);
    const scale = Math.max(Math.ceil(this.scale / 2), Math.min(MAX_DIGITS, DIVISION_DIGITS + 2 - magnitude), 0);
    const radicand = own * bigPower(2 * scale - this.scale);
    // Newton's steps from above fall until they reach the root's whole part.
    let root = bigPower(Math.ceil(digitsOf(radicand) / 2));
    for (;;) {
      const next = (root + radicand / root) >> 1n;
      if (next >= root) break;
      root = next;
    }
    const isExact = root * root === radicand;
    return new Decimal(tidy(root), scale, this.rounded || !isExact).significant(DIVISION_DIGITS, isExact).trim();
  }

  /** Exact, and without what was rounded off on the way: a third three times is 1. */
  settled(): Decimal {
    if (!this.rounded) return this;
    const { coefficient, scale } = this.significant(AGREEING_DIGITS).trim();
    return new Decimal(coefficient, scale);
  }

  /** Rounded to a number of significant digits; as it is where it has no more. */
  private significant(digits: number, isExact = false): Decimal {
    if (isExact) return this;
    const past = this.digits - digits;
    if (past <= 0) return this;
    const { scale, coefficient, rounded } = this;
    if (past <= scale)
      return new Decimal(tidy(divideRounded(BigInt(coefficient), bigPower(past))), scale - past, rounded);
    return this;
  }

  /**
   * A whole power, 0 and negative ones included: exact where that has no more than {@link MAX_DIGITS} digits behind the point, else
   * with {@link DIVISION_DIGITS}. Null where it has too many before the point, or is one through zero.
   */
  power(times: number): Decimal | null {
    if (times < 0) {
      const whole = this.power(-times);
      return whole && Decimal.of(1).divide(whole);
    }
    const base = this.trim();
    const isExact = base.scale * times <= MAX_DIGITS;
    let result = new Decimal(1, 0);
    let square = isExact ? base : base.asRounded();
    for (let left = times; left > 0; left = Math.floor(left / 2)) {
      if (left % 2 === 1) result = result.multiply(square).withinDigits();
      if (left > 1) square = square.multiply(square).withinDigits();
      if (result.isTooLong || (square.isTooLong && left > 1)) return null;
    }
    return isExact ? result : result.significant(DIVISION_DIGITS).trim();
  }

  /** Without the digits past the last one that a number may have behind its point. */
  private withinDigits(): Decimal {
    if (this.scale <= MAX_DIGITS) return this;
    const drop = bigPower(this.scale - MAX_DIGITS);
    return new Decimal(tidy(divideRounded(BigInt(this.coefficient), drop)), MAX_DIGITS, true);
  }

  /** Whether it has more than {@link MAX_DIGITS} digits before or behind the point. */
  get isTooLong(): boolean {
    if (this.scale > MAX_DIGITS) return true;
    return typeof this.coefficient === 'bigint' && this.digits > MAX_DIGITS + this.scale;
  }

  /** How many digits its coefficient has. */
  private get digits(): number {
    return digitsOf(this.coefficient);
  }

  /** Rounds half away from zero; `digits` may be negative (-2: to hundreds). */
  round(digits: number): Decimal {
    if (this.rounded) return this.settled().round(digits);
    if (digits >= this.scale) return this;
    if (this.scale - digits > this.digits) return Decimal.of(0);
    const rounded = divideRounded(BigInt(this.coefficient), bigPower(this.scale - digits));
    return digits >= 0 ? new Decimal(tidy(rounded), digits) : new Decimal(tidy(rounded * bigPower(-digits)), 0);
  }

  /** Towards zero, to a whole number. */
  truncate(): Decimal {
    const { coefficient, scale } = this.settled();
    return new Decimal(tidy(BigInt(coefficient) / bigPower(scale)), 0);
  }

  /** Cuts digits off, towards zero (`up` false) or away from it; `digits` may be negative (-2: to hundreds). */
  cut(digits: number, up: boolean): Decimal {
    if (this.rounded) return this.settled().cut(digits, up);
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
    if (this.rounded || other.rounded) return this.settled().quotient(other.settled());
    const scale = Math.max(this.scale, other.scale);
    const divisor = BigInt(rescale(other.coefficient, scale - other.scale));
    return new Decimal(tidy(BigInt(rescale(this.coefficient, scale - this.scale)) / divisor), 0);
  }

  /** What is left of a division to whole numbers towards zero, exactly; null when `other` is zero. */
  remainder(other: Decimal): Decimal | null {
    if (this.rounded || other.rounded) return this.settled().remainder(other.settled());
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
      return new Decimal(c, scale, this.rounded);
    }
    let big = c;
    for (const [zeros, unit] of TRIMMED) {
      while (scale >= zeros && big % unit === 0n) {
        big /= unit;
        scale -= zeros;
      }
    }
    return new Decimal(tidy(big), scale, this.rounded);
  }

  /** Which of the two comes first; where one was rounded, 0 for those that agree in {@link AGREEING_DIGITS} digits. */
  compare(other: Decimal): -1 | 0 | 1 {
    const scale = Math.max(this.scale, other.scale);
    const a = rescale(this.coefficient, scale - this.scale);
    const b = rescale(other.coefficient, scale - other.scale);
    if ((this.rounded || other.rounded) && agrees(BigInt(a) - BigInt(b), BigInt(a))) return 0;
    return a < b ? -1 : a > b ? 1 : 0;
  }

  /** As {@link compare}, with a number: what formulas compare with is mostly a whole one. */
  compareNumber(other: number): -1 | 0 | 1 {
    const { coefficient, scale } = this;
    if (typeof coefficient === 'number' && scale < POWERS.length && !this.rounded) {
      const scaled = other * POWERS[scale]!;
      if (Number.isSafeInteger(scaled) && Number.isSafeInteger(other))
        return coefficient < scaled ? -1 : coefficient > scaled ? 1 : 0;
    }
    return this.compare(Decimal.fromNumber(other) ?? Decimal.of(0));
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
