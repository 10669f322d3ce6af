import { blankWording } from './wording/blank';
import { cutsWording } from './wording/cuts';
import { letteringWording } from './wording/lettering';
import { programWording } from './wording/program';

/**
 * `spoils`: would ruin the piece; stops the download until acknowledged. `warns`: cuts, but not as asked.
 * `notes`: worth knowing.
 */
export type Severity = 'spoils' | 'warns' | 'notes';

export type Station = 'blank' | 'lettering' | 'lay' | 'cuts' | 'proof' | 'program';

/** Where a finding is: the station that cures it, and the thing or place meant. */
export interface Where {
  station: Station;
  /** Id of the inscription or cut. */
  id?: string;
  name?: string;
  xMm?: number;
  turnDeg?: number;
  /** Line of the program, counted from 1. */
  line?: number;
}

/** One problem or warning. `text` says what is wrong and by how much, `remedy` what to do. */
export interface Finding {
  code: FindingCode;
  severity: Severity;
  where: Where;
  text: string;
  remedy: string;
}

/** The wording of every finding, in `wording/`. */
const WORDING = { ...blankWording, ...letteringWording, ...cutsWording, ...programWording } satisfies Record<
  string,
  (d: never) => string[]
>;

export type FindingCode = keyof typeof WORDING;
/** The figures that each finding's wording needs. */
export type FindingData = { [C in FindingCode]: Parameters<(typeof WORDING)[C]>[0] };
export const FINDING_CODES = Object.keys(WORDING) as FindingCode[];

/** Makes a finding from its code, its place and its figures. */
export function makeFinding<C extends FindingCode>(code: C, where: Where, data: Parameters<(typeof WORDING)[C]>[0]): Finding {
  const [severity, text, remedy] = (WORDING[code] as (d: unknown) => string[])(data);
  return { code, severity: severity as Severity, where, text: text![0]!.toUpperCase() + text!.slice(1), remedy: remedy! };
}

export const hasSpoiling = (findings: readonly Finding[]): boolean => findings.some((f) => f.severity === 'spoils');
