import { roundTo } from '../base/round';
import { isEmptyBox, type Box } from '../base/rings';
import type { TextInscription } from '../job/schema';
import { toTurnDeg, type Surface } from '../surface/surface';

type Repeat = NonNullable<TextInscription['repeat']>;

/** As many as a repeat begins with, if they fit. */
const MOST = 4;
/** Kept free between two: a share of the height, and no less, mm. */
const GAP_SHARE = 0.2;
const LEAST_GAP_MM = 2;

/**
 * A repeat to begin with: copies that do not overlap and lie on the blank, round it, or else along or across it. One alone where none fits.
 * @param box Of the lettering as it stands on the sheet, mm; empty if there is none.
 */
export function createRepeat({ domain, periodMm, mmPerRad }: Pick<Surface, 'domain' | 'periodMm' | 'mmPerRad'>, box: Box): Repeat {
  const alone: Repeat = { roundCount: 1, roundPitchDeg: 0, alongCount: 1, alongPitchMm: 10, words: { kind: 'same' } };
  if (isEmptyBox(box)) return alone;
  const [width, height] = [box.maxX - box.minX, box.maxY - box.minY];
  const gap = Math.max(LEAST_GAP_MM, GAP_SHARE * height);
  if (periodMm !== null) {
    const round = Math.min(MOST, Math.floor(periodMm / (height + gap)));
    if (round > 1) return { ...alone, roundCount: round };
  }
  // Towards the farther end, as far as there is room; figures that a person would type.
  const [along, across] = [Math.ceil(width + gap), Math.ceil(height + gap)];
  const after = Math.floor((domain.maxX - box.maxX) / along),
    before = Math.floor((box.minX - domain.minX) / along);
  if (after > 0 || before > 0)
    return { ...alone, alongCount: Math.min(MOST, 1 + Math.max(after, before)), alongPitchMm: after >= before ? along : -along };
  if (periodMm !== null) return alone;
  const over = Math.floor((domain.maxY - box.maxY) / across),
    under = Math.floor((box.minY - domain.minY) / across);
  if (!(over > 0 || under > 0)) return alone;
  return {
    ...alone,
    roundCount: Math.min(MOST, 1 + Math.max(over, under)),
    roundPitchDeg: roundTo(toTurnDeg({ mmPerRad }, over >= under ? across : -across), 3),
  };
}
