import type { Surface } from './surface';

/** What holds on every sheet whose x and y are true lengths, square to each other, everywhere: flat, or rolled one way. */
export const TRUE_SHEET: Pick<Surface, 'isometric' | 'metricInto' | 'expInto'> = {
  isometric: true,
  metricInto(_x, _y, out) {
    out[0] = 1;
    out[1] = 0;
    out[2] = 1;
  },
  expInto(x, y, du, dv, out) {
    out[0] = x + du;
    out[1] = y + dv;
    return true;
  },
};
