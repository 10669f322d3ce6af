/** An affine map as SVG writes it: x' = a·x + c·y + e, y' = b·x + d·y + f. */
export type Matrix = [number, number, number, number, number, number];
export const IDENTITY: Matrix = [1, 0, 0, 1, 0, 0];

/** The map that applies `n` first, then `m`. */
export const multiply = (m: Matrix, n: Matrix): Matrix => [
  m[0] * n[0] + m[2] * n[1],
  m[1] * n[0] + m[3] * n[1],
  m[0] * n[2] + m[2] * n[3],
  m[1] * n[2] + m[3] * n[3],
  m[0] * n[4] + m[2] * n[5] + m[4],
  m[1] * n[4] + m[3] * n[5] + m[5],
];

/** Reads a `transform` attribute; what it cannot read is taken as no transform. Source: SVG 1.1, section 7.6 (from memory). */
export function parseTransform(text: string): Matrix {
  let out = IDENTITY;
  for (const [, name, list] of text.matchAll(/(matrix|translate|scale|rotate|skewX|skewY)\s*\(([^)]*)\)/g)) {
    const v = list!
      .trim()
      .split(/[\s,]+/)
      .map(Number);
    if (v.some((n) => !Number.isFinite(n))) continue;
    out = multiply(out, toMatrix(name!, v));
  }
  return out;
}

function toMatrix(name: string, v: number[]): Matrix {
  const rad = ((v[0] ?? 0) * Math.PI) / 180;
  switch (name) {
    case 'matrix':
      return v.length === 6 ? (v as Matrix) : IDENTITY;
    case 'translate':
      return [1, 0, 0, 1, v[0] ?? 0, v[1] ?? 0];
    case 'scale':
      return [v[0] ?? 1, 0, 0, v[1] ?? v[0] ?? 1, 0, 0];
    case 'skewX':
      return [1, 0, Math.tan(rad), 1, 0, 0];
    case 'skewY':
      return [1, Math.tan(rad), 0, 1, 0, 0];
    default: {
      const turn: Matrix = [Math.cos(rad), Math.sin(rad), -Math.sin(rad), Math.cos(rad), 0, 0];
      const [cx, cy] = [v[1] ?? 0, v[2] ?? 0];
      return multiply(multiply([1, 0, 0, 1, cx, cy], turn), [1, 0, 0, 1, -cx, -cy]);
    }
  }
}
