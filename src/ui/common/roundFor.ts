import { MM_PER_INCH, type Units } from './format';

/** Sizes that read well, as shares of ten. */
const NICE = [1, 1.25, 1.5, 2, 2.5, 3, 4, 5, 6, 8, 10];

/** The nearest length that is round in inches, by its share: 6 mm becomes a quarter, 1.5 mm 0.06. */
export function roundToInches(mm: number): number {
  if (mm === 0 || !Number.isFinite(mm)) return mm;
  const inches = Math.abs(mm) / MM_PER_INCH;
  const decade = 10 ** Math.floor(Math.log10(inches));
  const share = inches / decade;
  const nearest = NICE.reduce((best, n) => (Math.abs(Math.log(n / share)) < Math.abs(Math.log(best / share)) ? n : best));
  return Math.sign(mm) * Number((nearest * decade).toPrecision(6)) * MM_PER_INCH;
}

/** What Hobel puts in by itself, with its lengths and feeds round in the job's units. Places are left alone. */
export function roundFor<T>(units: Units, made: T): T {
  if (units === 'mm') return made;
  const walk = (value: unknown, key: string): unknown => {
    if (typeof value === 'number') return /(Mm|MmPerMin)$/.test(key) ? roundToInches(value) : value;
    if (Array.isArray(value)) return value.map((v) => walk(v, key));
    if (typeof value !== 'object' || value === null) return value;
    return Object.fromEntries(Object.entries(value).map(([k, v]) => [k, k === 'at' ? v : walk(v, k)]));
  };
  return walk(made, '') as T;
}
