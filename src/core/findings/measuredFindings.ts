import { isEmptyBox } from '../base/rings';
import { getTitle } from '../job/title';
import type { Lettering } from '../pipeline/lettering';
import type { Setup } from '../pipeline/setup';
import { hashBlank, isArc } from '../probe/grid';
import { fromTurnDeg } from '../surface/surface';
import { makeFinding, type Finding } from './finding';

/** Places lie this far from the edges of the blank: what comes nearer to those is no farther past them, mm. */
const PAST_MM = 3.5;

/** A measured blank that is another by now, and lettering that goes past where it was measured. */
export function findMeasuredFaults({ job, surface }: Pick<Setup, 'job' | 'surface'>, artworks: Lettering['artworks']): Finding[] {
  const { measured, blank } = job;
  if (!measured?.follows) return [];
  if (measured.blank !== hashBlank(blank)) return [makeFinding('measured-other', { station: 'blank' }, {})];
  const { xMm, turnDeg } = measured;
  const ys = turnDeg.map((deg) => fromTurnDeg(surface, deg));
  const ends = surface.periodMm === null || isArc(turnDeg);
  return artworks.flatMap(({ id, box }) => {
    if (isEmptyBox(box)) return [];
    const past = Math.max(measurePast(xMm, box.minX, box.maxX, null), ends ? measurePast(ys, box.minY, box.maxY, surface.periodMm) : 0);
    const name = getTitle(job.inscriptions.find((i) => i.id === id)!);
    return past > PAST_MM ? [makeFinding('measured-short', { station: 'blank', id, name }, { name, mm: past })] : [];
  });
}

/** By how much a span goes past the outermost of the places, mm; one place alone was meant for all. */
function measurePast(places: readonly number[], from: number, to: number, period: number | null): number {
  if (places.length < 2) return 0;
  const [first, last] = [places[0]!, places[places.length - 1]!];
  const shift = period === null ? 0 : period * Math.round(((first + last) / 2 - (from + to) / 2) / period);
  return Math.max(first - from - shift, to + shift - last);
}
