import { interpolateRgbBasis } from 'd3-interpolate';
import type { Surface } from '../../core/surface/surface';

/** Stretch up to this share is told apart; beyond it the colour stays. */
export const MOST_STRETCH = 0.25;
/** Squeezed: slate blue; true: the paper's own leaf; drawn out: towards madder. */
const ramp = interpolateRgbBasis(['#274c77', '#7fa3c7', '#f4efe0', '#e0a458', '#8f2d1d']);

/** Colour of a stretch: 1 is true. */
export const colourOfStretch = (stretch: number): string => ramp(0.5 + Math.max(-0.5, Math.min(0.5, (stretch - 1) / MOST_STRETCH / 2)));

/** Side of the squares that show a lay, mm: some twenty over the blank as it is seen, on a round number. */
export function chooseCell(surface: Pick<Surface, 'domain' | 'round' | 'mmPerRad'>): number {
  const { minX, maxX, minY, maxY } = surface.domain;
  const raw = Math.min(maxX - minX, surface.round ? 2 * surface.mmPerRad : maxY - minY) / 20;
  const power = 10 ** Math.floor(Math.log10(Math.max(1e-6, raw)));
  return [1, 2, 5, 10].map((k) => k * power).find((v) => v >= raw) ?? raw;
}
