import { interpolateRgbBasis } from 'd3-interpolate';

/** Stretch up to this share is told apart; beyond it the colour stays. */
export const MOST_STRETCH = 0.25;
/** Squeezed: slate blue; true: the paper's own leaf; drawn out: towards madder. */
const ramp = interpolateRgbBasis(['#274c77', '#7fa3c7', '#f4efe0', '#e0a458', '#8f2d1d']);

/** Colour of a stretch: 1 is true. */
export const colourOfStretch = (stretch: number): string => ramp(0.5 + Math.max(-0.5, Math.min(0.5, (stretch - 1) / MOST_STRETCH / 2)));

/** Side of the squares that show a lay, mm: some forty over the longer way, on a round number. */
export function chooseCell(lengthMm: number): number {
  const raw = lengthMm / 40;
  const power = 10 ** Math.floor(Math.log10(Math.max(1e-6, raw)));
  return [1, 2, 5, 10].map((k) => k * power).find((v) => v >= raw) ?? raw;
}
