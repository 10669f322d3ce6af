/*
 * Numbers of a word as RS274/NGC lets them be written: plain, a parameter, or an expression in brackets (NISTIR 6556, 3.3.2.2 to
 * 3.3.2.4 and table 4, from memory). Angles of functions are in degrees.
 */

/** Why a number cannot be read, with words that say it. */
export class ExpressionFault extends Error {}

const DEG = Math.PI / 180;
const FUNCTIONS: Record<string, (v: number) => number> = {
  ABS: Math.abs,
  ACOS: (v) => Math.acos(v) / DEG,
  ASIN: (v) => Math.asin(v) / DEG,
  COS: (v) => Math.cos(v * DEG),
  EXP: Math.exp,
  FIX: Math.floor,
  FUP: Math.ceil,
  LN: Math.log,
  ROUND: Math.round,
  SIN: (v) => Math.sin(v * DEG),
  SQRT: Math.sqrt,
  TAN: (v) => Math.tan(v * DEG),
};
type Operation = (a: number, b: number) => number;
/** Operators by how tightly they bind, the tightest first. */
const LEVELS: readonly Readonly<Record<string, Operation>>[] = [
  { '**': (a, b) => a ** b },
  { '*': (a, b) => a * b, '/': (a, b) => a / b, MOD: (a, b) => a - b * Math.floor(a / b) },
  {
    '+': (a, b) => a + b,
    '-': (a, b) => a - b,
    OR: (a, b) => (a !== 0 || b !== 0 ? 1 : 0),
    XOR: (a, b) => ((a !== 0) !== (b !== 0) ? 1 : 0),
    AND: (a, b) => (a !== 0 && b !== 0 ? 1 : 0),
  },
];
const OPERATORS = LEVELS.flatMap((l) => Object.keys(l)).sort((a, b) => b.length - a.length);
const NUMBER = /(?:\d+\.?\d*|\.\d+)/y;
const NAME = /[A-Z]+/y;
/** Brackets within brackets, at most: deeper is no program. */
const MAX_DEPTH = 40;

/** Reads numbers from a line without spaces, in capitals, one after the other. */
export class NumberReader {
  at = 0;
  private depth = 0;

  constructor(
    readonly source: string,
    private readonly parameters: ReadonlyMap<number, number>,
  ) {}

  get ended(): boolean {
    return this.at >= this.source.length;
  }

  /** The next letter or sign, without taking it. */
  get next(): string {
    return this.source[this.at] ?? '';
  }

  /** The number that stands here. @throws ExpressionFault */
  read(): number {
    const value = this.readSigned();
    if (!Number.isFinite(value)) throw new ExpressionFault('comes to no number');
    return value;
  }

  /** The number of a parameter, after its sign. @throws ExpressionFault */
  readParameter(): number {
    const n = this.readSigned();
    if (!Number.isInteger(n) || n < 1 || n > 5399) throw new ExpressionFault(`there is no parameter #${n}`);
    return n;
  }

  private readSigned(): number {
    const sign = this.next;
    if (sign === '+' || sign === '-') {
      this.at++;
      return sign === '-' ? -this.readUnsigned() : this.readUnsigned();
    }
    return this.readUnsigned();
  }

  private readUnsigned(): number {
    const { next } = this;
    if (next === '[') return this.readBracket();
    if (next === '#') {
      this.at++;
      return this.parameters.get(this.readParameter()) ?? 0;
    }
    NUMBER.lastIndex = this.at;
    const number = NUMBER.exec(this.source);
    if (number) {
      this.at = NUMBER.lastIndex;
      return Number(number[0]);
    }
    NAME.lastIndex = this.at;
    const name = NAME.exec(this.source)?.[0] ?? '';
    const known = name === 'ATAN' || name in FUNCTIONS ? name : '';
    if (!known) throw new ExpressionFault(`"${this.source.slice(this.at, this.at + 8)}" is no number`);
    this.at += known.length;
    const value = this.readBracket();
    if (known !== 'ATAN') return FUNCTIONS[known]!(value);
    if (this.next !== '/') throw new ExpressionFault('ATAN needs two values, [..]/[..]');
    this.at++;
    return Math.atan2(value, this.readBracket()) / DEG;
  }

  private readBracket(): number {
    if (this.next !== '[') throw new ExpressionFault('"[" is missing');
    if (++this.depth > MAX_DEPTH) throw new ExpressionFault('brackets too deep');
    this.at++;
    const values = [this.readSigned()];
    const operators: string[] = [];
    while (this.source[this.at] !== ']') {
      const operator = OPERATORS.find((o) => this.source.startsWith(o, this.at));
      if (!operator) throw new ExpressionFault(this.ended ? '"]" is missing' : `"${this.next}" is no operator`);
      this.at += operator.length;
      operators.push(operator);
      values.push(this.readSigned());
    }
    this.at++;
    this.depth--;
    return reduce(values, operators);
  }
}

/** Works out a row of values and operators, tightest first, each level from the left. */
function reduce(values: number[], operators: string[]): number {
  for (const level of LEVELS) {
    for (let k = 0; k < operators.length;) {
      const work = level[operators[k]!];
      if (!work) {
        k++;
        continue;
      }
      values.splice(k, 2, work(values[k]!, values[k + 1]!));
      operators.splice(k, 1);
    }
  }
  return values[0]!;
}
