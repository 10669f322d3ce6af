import type { Surface } from './surface';

/** Length on a surface between two sheet places that lie near each other, mm: by its metric in their middle. */
export function measureLength(surface: Pick<Surface, 'metricInto'>, ax: number, ay: number, bx: number, by: number): number {
  const metric = new Float64Array(3);
  surface.metricInto((ax + bx) / 2, (ay + by) / 2, metric);
  const [dx, dy] = [bx - ax, by - ay];
  return Math.sqrt(Math.max(0, metric[0]! * dx * dx + 2 * metric[1]! * dx * dy + metric[2]! * dy * dy));
}
