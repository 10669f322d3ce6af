import type { Matrix } from './svgTransform';

/** One CSS pixel, and the other absolute units, mm. Source: CSS Values and Units Level 3, section 6.2. */
export const UNIT_MM: Record<string, number> = {
  '': 25.4 / 96,
  px: 25.4 / 96,
  mm: 1,
  cm: 10,
  in: 25.4,
  pt: 25.4 / 72,
  pc: 25.4 / 6,
  q: 0.25,
};

/** Size of the view that percentages are of, user units. */
export interface View {
  width: number;
  height: number;
}

/** What a percentage is of: the view's width, its height, or its mean diagonal. */
export type Axis = 'x' | 'y' | 'both';

/** A length in user units; null if it is none. A percentage is of the view. Source: SVG 1.1, section 7.10 (from memory). */
export function parseLength(text: string | undefined, axis: Axis, view: View): number | null {
  const m = /^\s*([+-]?(?:\d+\.?\d*|\.\d+)(?:e[+-]?\d+)?)\s*([a-z%]*)\s*$/i.exec(text ?? '');
  if (!m) return null;
  const value = Number(m[1]);
  if (m[2] === '%') {
    const of = axis === 'x' ? view.width : axis === 'y' ? view.height : Math.hypot(view.width, view.height) / Math.SQRT2;
    return (value / 100) * of;
  }
  const unit = UNIT_MM[m[2]!.toLowerCase()];
  return unit === undefined ? null : m[2] ? (value * unit) / UNIT_MM.px! : value;
}

/** A viewBox as four numbers; null if there is none to go by. */
export function parseViewBox(text: string | undefined): [number, number, number, number] | null {
  const box = (text ?? '')
    .trim()
    .split(/[\s,]+/)
    .map(Number);
  return box.length === 4 && box.every(Number.isFinite) && box[2]! > 0 && box[3]! > 0 ? (box as [number, number, number, number]) : null;
}

/**
 * From the user units of a viewBox into a view of a size whose corner is at (x, y), and the size of the view inside.
 * Source: SVG 1.1, section 7.8, preserveAspectRatio (from memory).
 */
export function fitViewBox(
  x: number,
  y: number,
  size: View,
  viewBox: string | undefined,
  aspect: string | undefined,
): { m: Matrix; view: View } {
  const box = parseViewBox(viewBox);
  if (!box) return { m: [1, 0, 0, 1, x, y], view: size };
  const [minX, minY, width, height] = box;
  let kx = size.width / width,
    ky = size.height / height;
  const text = aspect ?? '';
  if (!/none/.test(text)) kx = ky = /slice/.test(text) ? Math.max(kx, ky) : Math.min(kx, ky);
  const share = (name: string): number => (new RegExp(`${name}Min`).test(text) ? 0 : new RegExp(`${name}Max`).test(text) ? 1 : 0.5);
  const restX = size.width - kx * width,
    restY = size.height - ky * height;
  return {
    m: [kx, 0, 0, ky, x - kx * minX + share('x') * restX, y - ky * minY + share('Y') * restY],
    view: { width, height },
  };
}
