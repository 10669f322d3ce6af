import { interpolateRgbBasis } from 'd3-interpolate';

/** From the datum end to the far end: slate, moss, ochre. */
const alongColours = interpolateRgbBasis(['#31506b', '#5f7f4e', '#b07a1c']);
/** Further in, as drawn, further out: teal, chalk, rust. */
const offColours = interpolateRgbBasis(['#1f6f78', '#a9cbc6', '#f4f0e6', '#e0b48e', '#9c3f1d']);

export const toPlaceColour = (k: number, count: number): string => alongColours(count > 1 ? k / (count - 1) : 0);

/** @param share In [−1, 1]. */
export const toOffColour = (share: number): string => offColours((1 + Math.max(-1, Math.min(1, share))) / 2);
