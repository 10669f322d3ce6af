import { GRID_MM } from '../base/boolean';
import type { Affine } from '../base/rings';
import type { Anchor, Inscription } from '../job/schema';
import { fromTurnDeg } from '../surface/surface';
import type { LetteringContext } from './inscriptionArtwork';
import type { PieceLayer } from './layPieces';

/** Where an anchor lies in a box, as shares of its width and height. */
export const anchorFraction = (anchor: Anchor): [number, number] => [
  anchor.includes('left') ? 0 : anchor.includes('right') ? 1 : 0.5,
  anchor.includes('bottom') ? 0 : anchor.includes('top') ? 1 : 0.5,
];

/** On the grid, at most 0.05 µm off, so that equal letters stay equal to the last digit and are carved once. */
export const onGrid = (v: number): number => Math.round(v / GRID_MM) * GRID_MM;

/** An inscription's own axes in the lettering plane: where (0, 0) goes and where its x runs. */
export function createPlace(inscription: Inscription, xMm: number, yMm: number, ax: number, ay: number) {
  const turn = (inscription.rotationDeg * Math.PI) / 180;
  const cos = Math.cos(turn),
    sin = Math.sin(turn);
  const flip = inscription.mirrored ? -1 : 1;
  return (dx: number, dy: number): Affine => ({
    a: cos * flip,
    b: sin * flip,
    c: -sin,
    d: cos,
    e: onGrid(xMm + cos * flip * (dx - ax) - sin * (dy - ay)),
    f: onGrid(yMm + sin * flip * (dx - ax) + cos * (dy - ay)),
  });
}

/** A place beside a glyph's own, given in the inscription's axes: a step that is the same for each letter alike, to the last digit. */
export const stepOnGrid = (own: Affine, dx: number, dy: number): [number, number] => [
  own.e + onGrid(own.a * dx + own.c * dy),
  own.f + onGrid(own.b * dx + own.d * dy),
];

/** Sheet y of an inscription's anchor, mm. */
export const yOf = (inscription: Inscription, context: LetteringContext): number =>
  fromTurnDeg(context.layer.surface, inscription.at.turnDeg);

/** Plane places about an anchor, as x y in turn, taken to the sheet; null where one is off the surface. */
export function toSheetPoints(layer: PieceLayer, [ax, ay]: readonly [number, number], uv: readonly number[]): Float64Array | null {
  if (layer.lay.plain) return Float64Array.from(uv, (v, i) => v + (i % 2 ? ay : ax));
  const map = layer.lay.aboutExactly(ax, ay);
  const out = new Float64Array(uv.length),
    at = new Float64Array(3);
  for (let i = 0; i < uv.length; i += 2) {
    if (!map.map(uv[i]!, uv[i + 1]!, at)) return null;
    out[i] = at[0]!;
    out[i + 1] = at[1]!;
  }
  return out;
}

/** Where reading begins on the sheet, its direction and which way is up. */
export function toSheetReading(layer: PieceLayer, anchor: readonly [number, number], m: Affine): Float64Array {
  const e = layer.lay.plain ? 1 : 1e-3;
  const p = toSheetPoints(layer, anchor, [m.e, m.f, m.e + e * m.a, m.f + e * m.b, m.e + e * m.c, m.f + e * m.d]);
  if (!p) return new Float64Array(6);
  const [rx, ry, ux, uy] = [p[2]! - p[0]!, p[3]! - p[1]!, p[4]! - p[0]!, p[5]! - p[1]!];
  const [r, u] = layer.lay.plain ? [1, 1] : [Math.hypot(rx, ry) || 1, Math.hypot(ux, uy) || 1];
  return Float64Array.from(
    layer.lay.plain ? [m.e + anchor[0], m.f + anchor[1], m.a, m.b, m.c, m.d] : [p[0]!, p[1]!, rx / r, ry / r, ux / u, uy / u],
  );
}
