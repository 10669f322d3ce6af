import { z } from 'zod';
import type { Blank } from './blankSchema';
import { getMount, getTurnedSizes } from './blankText';
import { angleDeg, lengthMm } from './fields';

/** Where the machine's words are 0, besides Z, which the blank says. */
export const zeroSchema = z.strictObject({
  /** Along the blank. */
  along: z.enum(['datum', 'middle', 'far']),
  /** Across a blank that lies on the table, as the sheet shows it: its lower edge, its middle, its upper edge. */
  across: z.enum(['low', 'middle', 'high']),
  /** Turn of the line that faces the tool where the rotary's word is 0. */
  turnDeg: angleDeg(-360, 360),
  /**
   * On a table that tilts: where its axes meet, as the words read it from this zero while both stand at 0. A round blank stands on the
   * table's axis, so that Z alone counts. Null until it was measured.
   */
  centreMm: z.strictObject({ xMm: lengthMm(-5000, 5000), yMm: lengthMm(-5000, 5000), zMm: lengthMm(-5000, 5000) }).nullable(),
});
export type Zero = z.infer<typeof zeroSchema>;

export const createZero = (): Zero => ({ along: 'datum', across: 'middle', turnDeg: 0, centreMm: null });

/** How long a blank is along its axis, mm; null for a free shape, whose zero is the place that was picked. */
export function getLengthMm(blank: Blank): number | null {
  switch (blank.kind) {
    case 'free':
      return null;
    case 'turned':
      return getTurnedSizes(blank.profile).lengthMm;
    case 'plate':
      return blank.lengthMm * (blank.inclineTowards === 'x' ? Math.cos((blank.inclineDeg * Math.PI) / 180) : 1);
    default:
      return blank.lengthMm;
  }
}

/** How wide a blank is that lies on the table, mm; null where it is turned, or no such edge can be touched. */
export function getWidthMm(blank: Blank): number | null {
  if (getMount(blank) === 'rotary') return null;
  if (blank.kind === 'arched') return blank.chordMm;
  if (blank.kind !== 'plate') return null;
  if (blank.shape === 'disc') return blank.lengthMm;
  return blank.widthMm * (blank.inclineTowards === 'y' ? Math.cos((blank.inclineDeg * Math.PI) / 180) : 1);
}

/**
 * A machine's zero in the blank frame: mm along and across, and the turn that faces the tool, degrees. Choices that the blank has not
 * got are none.
 */
export interface ZeroPlace {
  xMm: number;
  yMm: number;
  turnDeg: number;
}

export const AT_DATUM: ZeroPlace = { xMm: 0, yMm: 0, turnDeg: 0 };

export function getZeroPlace(blank: Blank, zero: Zero): ZeroPlace {
  const length = getLengthMm(blank) ?? 0;
  const width = getWidthMm(blank) ?? 0;
  return {
    xMm: zero.along === 'datum' ? 0 : zero.along === 'middle' ? length / 2 : length,
    yMm: zero.across === 'middle' ? 0 : zero.across === 'low' ? -width / 2 : width / 2,
    turnDeg: getMount(blank) === 'rotary' ? zero.turnDeg : 0,
  };
}

/** Where the word along is 0, to go on after "zero X at". */
export function describeAlong(blank: Blank, { along }: Zero): string {
  if (getLengthMm(blank) === null) return 'the picked place';
  return { datum: 'the datum end', middle: 'the middle of its length', far: 'the far end' }[along];
}

/** Where the word across is 0, to go on after "zero Y at"; null where it is at the middle, as it always was. */
export function describeAcross(blank: Blank, { across }: Zero): string | null {
  if (getWidthMm(blank) === null || across === 'middle') return null;
  return across === 'low' ? 'the lower edge of the lettered face' : 'the upper edge of the lettered face';
}

/** Which line faces the tool at 0, to go on after "A is zero at"; plain ASCII. */
export function describeTurnZero({ turnDeg }: Zero): string {
  return turnDeg === 0
    ? 'the line that faces the tool'
    : `the line ${String(Math.round(turnDeg * 1000) / 1000)} deg round from the sheet's turn 0`;
}
