/** A defect in Hobel itself: never an expected outcome. Carries the function's name and the offending value. */
export class InvariantError extends Error {
  constructor(where: string, what: string, value?: unknown) {
    super(`${where}: ${what}${value === undefined ? '' : ` (got ${String(value)})`}`);
    this.name = 'InvariantError';
  }
}

/** Throws InvariantError unless every number is finite. O(n). */
export function assertAllFinite(where: string, values: ArrayLike<number>): void {
  for (let i = 0; i < values.length; i++) {
    if (!Number.isFinite(values[i])) throw new InvariantError(where, `value ${i} is not finite`, values[i]);
  }
}
