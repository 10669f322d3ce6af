import {
  create,
  addDependencies,
  createUnitDependencies,
  divideDependencies,
  multiplyDependencies,
  evaluateDependencies,
  powDependencies,
  subtractDependencies,
  unaryMinusDependencies,
  unaryPlusDependencies,
  unitDependencies,
  type FactoryFunctionMap,
  type Unit,
} from 'mathjs';

/** What a field holds: the core's unit for it is mm, degrees, mm/min or a bare number. */
export type QuantityKind = 'length' | 'angle' | 'feed' | 'number';

export type Quantity = { ok: true; value: number } | { ok: false; text: string };

// Only the arithmetic of numbers and units: nothing else can be called from a field.
const math = create({
  addDependencies,
  subtractDependencies,
  multiplyDependencies,
  divideDependencies,
  powDependencies,
  unaryMinusDependencies,
  unaryPlusDependencies,
  unitDependencies,
  createUnitDependencies,
  evaluateDependencies,
} as FactoryFunctionMap);
// Desktop publishing point, 1/72 in; mathjs knows "pt" as a pint.
math.createUnit('pt', { definition: '0.013888888888888888 in' }, { override: true });
math.createUnit('turn', { definition: '360 deg' }, { override: true });

const WORDS: Record<QuantityKind, readonly string[]> = {
  length: ['mm', 'cm', 'm', 'um', 'in', 'inch', 'pt'],
  angle: ['deg', 'rad', 'turn'],
  feed: ['mm', 'in', 'min', 's', 'm'],
  number: [],
};
const CORE_UNIT: Record<QuantityKind, string> = { length: 'mm', angle: 'deg', feed: 'mm/min', number: '' };
const MAX_LENGTH = 80;

/**
 * Reads what a person types into a number field: arithmetic, fractions, units ("3/8 in", "1 1/2 in", "2*6.35", "24 pt", "1 in + 2",
 * `1/2"`, "45°"). A decimal comma counts as a point. A bare number, also as a term of a sum, is in the field's own unit.
 * @param unit Unit of a bare number, e.g. `in` in an inch job.
 */
export function parseQuantity(text: string, kind: QuantityKind, unit = CORE_UNIT[kind]): Quantity {
  const source = text
    .trim()
    .toLowerCase()
    .replace(/(\d),(\d)/g, '$1.$2')
    .replace(/[”″"]/g, ' in ')
    .replace(/°/g, ' deg ')
    .replace(/µ|μ/g, 'u')
    .replace(/×/g, '*')
    .replace(/−/g, '-');
  if (source === '') return { ok: false, text: 'Type a number' };
  if (source.length > MAX_LENGTH || /[^0-9a-z.+\-*/()^ ]/.test(source)) return { ok: false, text: `"${text.slice(0, 24)}" is no number` };
  for (const word of source.match(/[a-z]+/g) ?? []) {
    if (word === 'e' && /\de[-+]?\d/.test(source)) continue;
    if (!WORDS[kind].includes(word)) {
      return {
        ok: false,
        text: WORDS[kind].length
          ? `"${word}" is no unit here: ${WORDS[kind].slice(0, 7).join(', ')}`
          : 'This is a bare number, without a unit',
      };
    }
  }
  try {
    // To mathjs "in" is an operator as well, which a bracket before it brings out.
    const result = math.evaluate!(giveUnits(joinMixed(source), unit).replace(/\bin\b/g, 'inch')) as number | Unit;
    const value =
      typeof result === 'number'
        ? unit === CORE_UNIT[kind]
          ? result
          : math.unit!(result, unit).toNumber(CORE_UNIT[kind])
        : result.toNumber(CORE_UNIT[kind]);
    return Number.isFinite(value) ? { ok: true, value } : { ok: false, text: 'This comes to no finite number' };
  } catch {
    return { ok: false, text: `"${text.slice(0, 24)}" cannot be worked out` };
  }
}

/** Mixed numbers as sums: "1 1/2" is one and a half. */
const joinMixed = (source: string): string => source.replace(/(^|[^\d./])(\d+)\s+(\d+)\s*\/\s*(\d+)/g, '$1($2+$3/$4)');

/** Gives the terms of a sum that have no unit, beside others that have, the field's own. */
function giveUnits(source: string, unit: string): string {
  const hasUnit = (text: string): boolean => /[a-z]/.test(text.replace(/\de[-+]?\d/g, ''));
  if (unit === '' || !hasUnit(source)) return source;
  const terms: string[] = [''];
  let depth = 0;
  for (const [i, ch] of [...source].entries()) {
    if (ch === '(') depth++;
    if (ch === ')') depth--;
    const before = source.slice(0, i).trimEnd();
    // A sign after another operator belongs to its number, and so does one in an exponent.
    const joins = depth === 0 && (ch === '+' || ch === '-') && before !== '' && !/[-+*/^(]$/.test(before) && !/\de$/.test(before);
    if (joins) terms.push(ch, '');
    else terms[terms.length - 1] += ch;
  }
  return terms.map((t, i) => (i % 2 || hasUnit(t) ? t : `(${t}) ${unit} `)).join('');
}
