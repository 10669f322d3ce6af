import { useEffect, useRef } from 'react';
import { TILE } from '../../../core/removal/field';
import { PICTURE, PICTURE_CELLS } from '../../../core/removal/relief';
import { useJobPart, useView } from '../../state/benchStore';
import type { Piece } from '../../state/piece';
import type { LetteringView, PlanView } from '../../../workers/planning.client';
import type { MATERIALS } from '../preview';
import { CUT_LOOKS } from '../preview';
import type { SheetViewport } from './useSheetView';

/** From where the sheet is lit: along its x, along its y, and over it. */
const LIGHT = [-0.42, 0.48, 0.77] as const;
/** How dark the deepest places are against the skin. */
const DEEP = 0.55;

/** The cut sheet as shaded relief, under the lettering's outline: the same cells that the blank is drawn from. */
export function ReliefLayer({
  plan,
  lettering,
  viewport,
}: {
  plan: PlanView | null;
  lettering: LetteringView | null;
  viewport: SheetViewport;
}) {
  const made = useView((v) => v.piece);
  const comparing = useView((v) => v.comparing);
  const engraved = useView((v) => v.engraved);
  const material = useJobPart((j) => j.material);
  const fill = useView((v) => v.fill);
  const canvas = useRef<HTMLCanvasElement>(null);
  const shaded = useRef<{ keys: Uint32Array; version: number; look: string; atlas: OffscreenCanvas } | null>(null);
  const piece = engraved && made && made.plan === plan ? made : null;
  const { size, transform: t } = viewport;
  useEffect(() => {
    const target = canvas.current;
    if (!target || !piece) return;
    const look = `${material} ${fill ?? ''}`;
    const last = shaded.current;
    const same = last !== null && last.keys === piece.keys && last.look === look;
    const columns = Math.max(1, Math.ceil(Math.sqrt(piece.keys.length)));
    const atlas = same ? last.atlas : new OffscreenCanvas(columns * TILE, columns * TILE);
    if (!same || last.version !== piece.version) {
      const slots = same && last.version + 1 === piece.version ? piece.changed : null;
      shade(piece, slots ?? Array.from(piece.keys, (_, slot) => slot), columns, atlas, material, fill);
    }
    shaded.current = { keys: piece.keys, version: piece.version, look, atlas };
    draw(target, piece, atlas, columns, size, t);
    if (comparing) {
      const areas = (lettering?.inscriptions ?? []).map((i) => i.areaData).filter(Boolean);
      paintDifference(target, piece, atlas, columns, size, t, areas);
    }
  }, [piece, material, fill, size, t, comparing, lettering]);
  if (!piece) return null;
  return (
    <foreignObject width={size.width} height={size.height} pointerEvents="none">
      <canvas ref={canvas} data-testid="relief" style={{ width: size.width, height: size.height, display: 'block' }} />
    </foreignObject>
  );
}

const rgbOf = (hex: string): number[] => [1, 3, 5].map((i) => parseInt(hex.slice(i, i + 2), 16));

/** Shades tiles into the atlas, high rows on top. */
function shade(
  piece: Piece,
  slots: readonly number[],
  columns: number,
  atlas: OffscreenCanvas,
  material: keyof typeof MATERIALS,
  fill: string | null,
): void {
  const context = atlas.getContext('2d')!;
  const tile = context.createImageData(TILE, TILE);
  const { light, body, dark } = CUT_LOOKS[material];
  const filled = fill ? rgbOf(fill) : null;
  const [bright, middle, low] = (
    filled ? [filled.map((v) => Math.min(255, v + 70)), filled, filled.map((v) => 0.5 * v)] : [rgbOf(light), rgbOf(body), rgbOf(dark)]
  ) as [number[], number[], number[]];
  for (const slot of slots) {
    for (let r = 0; r < TILE; r++) {
      for (let c = 0; c < TILE; c++) {
        const from = 4 * (PICTURE_CELLS * slot + (r + 1) * PICTURE + c + 1);
        const out = 4 * ((TILE - 1 - r) * TILE + c);
        const nx = piece.look[from]! / 127.5 - 1,
          ny = piece.look[from + 1]! / 127.5 - 1;
        const nz = Math.sqrt(Math.max(0, 1 - nx * nx - ny * ny));
        const lit = Math.max(0, nx * LIGHT[0] + ny * LIGHT[1] + nz * LIGHT[2]);
        const tone = Math.min(1, lit) * (1 - (DEEP * piece.look[from + 3]!) / 255);
        for (let k = 0; k < 3; k++) {
          tile.data[out + k] =
            tone < 0.6 ? low[k]! + (tone / 0.6) * (middle[k]! - low[k]!) : middle[k]! + ((tone - 0.6) / 0.4) * (bright[k]! - middle[k]!);
        }
        tile.data[out + 3] = piece.look[from + 2]!;
      }
    }
    context.putImageData(tile, (slot % columns) * TILE, Math.floor(slot / columns) * TILE);
  }
}

function draw(
  target: HTMLCanvasElement,
  piece: Piece,
  atlas: OffscreenCanvas,
  columns: number,
  size: SheetViewport['size'],
  t: SheetViewport['transform'],
): void {
  const ratio = window.devicePixelRatio;
  const [width, height] = [Math.round(size.width * ratio), Math.round(size.height * ratio)];
  if (target.width !== width) target.width = width;
  if (target.height !== height) target.height = height;
  const context = target.getContext('2d')!;
  drawTiles(context, ratio, piece, atlas, columns, size, t);
}

/** Draws the tiles that are seen. */
function drawTiles(
  context: Context,
  ratio: number,
  piece: Piece,
  atlas: OffscreenCanvas,
  columns: number,
  size: SheetViewport['size'],
  t: SheetViewport['transform'],
): void {
  context.setTransform(ratio, 0, 0, ratio, 0, 0);
  context.clearRect(0, 0, size.width, size.height);
  const { grid, keys } = piece;
  const [w, h] = [TILE * grid.cellX * t.k, TILE * grid.cellY * t.k];
  context.imageSmoothingEnabled = grid.cellX * t.k * ratio < 4;
  context.imageSmoothingQuality = 'high';
  for (const [slot, key] of keys.entries()) {
    const x = t.x + (grid.minX + (key % grid.tilesAlong) * TILE * grid.cellX) * t.k;
    const row = Math.floor(key / grid.tilesAlong) * TILE;
    const y = t.y - (grid.minY + (row + TILE) * grid.cellY) * t.k;
    if (x > size.width || y > size.height || x + w < 0 || y + h < 0) continue;
    context.drawImage(atlas, (slot % columns) * TILE, Math.floor(slot / columns) * TILE, TILE, TILE, x, y, w, h);
  }
}

type Context = CanvasRenderingContext2D | OffscreenCanvasRenderingContext2D;

/** Colours of what is left inside the outlines and of what is cut outside them. */
export const LEFT_COLOUR = '#2f5f8f';
export const OUTSIDE_COLOUR = '#b3261e';
/** Cut farther from an outline than this is another cut's, mm. */
const BESIDE_MM = 0.5;

/** Paints over the relief what is left inside areas of lettering, and what is cut beside them. */
function paintDifference(
  target: HTMLCanvasElement,
  piece: Piece,
  atlas: OffscreenCanvas,
  columns: number,
  size: SheetViewport['size'],
  t: SheetViewport['transform'],
  areas: readonly string[],
): void {
  const ratio = window.devicePixelRatio;
  const onSheet = (context: Context) => context.setTransform(ratio * t.k, 0, 0, -ratio * t.k, ratio * t.x, ratio * t.y);
  const paths = areas.map((data) => new Path2D(data));
  const layer = (paint: (context: OffscreenCanvasRenderingContext2D) => void): OffscreenCanvas => {
    const made = new OffscreenCanvas(target.width, target.height);
    paint(made.getContext('2d')!);
    return made;
  };
  const cut = layer((c) => drawTiles(c, ratio, piece, atlas, columns, size, t));
  const left = layer((c) => {
    onSheet(c);
    c.fillStyle = LEFT_COLOUR;
    for (const path of paths) c.fill(path);
    c.setTransform(1, 0, 0, 1, 0, 0);
    c.globalCompositeOperation = 'destination-out';
    c.drawImage(cut, 0, 0);
  });
  const outside = layer((c) => {
    onSheet(c);
    c.strokeStyle = OUTSIDE_COLOUR;
    c.lineWidth = 2 * BESIDE_MM;
    for (const path of paths) c.stroke(path);
    c.setTransform(1, 0, 0, 1, 0, 0);
    c.globalCompositeOperation = 'destination-in';
    c.drawImage(cut, 0, 0);
    onSheet(c);
    c.globalCompositeOperation = 'destination-out';
    for (const path of paths) c.fill(path);
  });
  const context = target.getContext('2d')!;
  context.setTransform(1, 0, 0, 1, 0, 0);
  context.drawImage(left, 0, 0);
  context.drawImage(outside, 0, 0);
}
