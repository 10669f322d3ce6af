import type { Lay } from '../../../../core/job/schema';
import type { LetteringView } from '../../../../workers/planning.client';

/** Names of the lays. */
export const TITLES: Record<Lay['kind'], string> = { wrap: 'Wrap', level: 'Level', project: 'Project', drape: 'Drape' };
/** Inscriptions that have ink. */
export const inked = (lettering: LetteringView | null) => (lettering?.inscriptions ?? []).filter((i) => i.box.minX <= i.box.maxX);

/** A stretch as people say it: +4.2 %, true where it is less than a thousandth of a percent. */
export const formatPercent = (stretch: number): string => {
  const percent = (stretch - 1) * 100;
  return Math.abs(percent) < 0.0005
    ? 'no stretch'
    : `${percent > 0 ? '+' : '−'}${Math.abs(percent).toFixed(Math.abs(percent) < 1 ? 3 : 1)} %`;
};
