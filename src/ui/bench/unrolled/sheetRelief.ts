import { TILE } from '../../../core/removal/tile';
import { PICTURE, PICTURE_CELLS } from '../../../core/removal/relief';
import type { Piece } from '../../state/piece';
import { CUT_LOOKS, type MATERIALS } from '../preview';
import type { SheetViewport } from './useSheetView';

/** From where the sheet is lit: along its x, along its y, and over it. */
const LIGHT = [-0.42, 0.48, 0.77] as const;
/** How dark the deepest places are against the skin. */
const DEEP = 0.55;
const TONES = 256;
/** Colours of what is left inside the outlines and of what is cut outside them. */
export const LEFT_COLOUR = '#2f5f8f';
export const OUTSIDE_COLOUR = '#b3261e';
/** A faulty cell is drawn no smaller, px. */
const FAULT_PX = 3;
/** Cut farther from an outline than this is another cut's, mm. */
const BESIDE_MM = 0.5;

type Context = CanvasRenderingContext2D | OffscreenCanvasRenderingContext2D;
/** Where the sheet lies on a picture, in units of which `ratio` come to a pixel. */
export interface SheetWindow extends Pick<SheetViewport, 'size' | 'transform'> {
  ratio: number;
}

let litOfSlope: Float32Array | null = null;
/** How bright a place is, in tones, by the two lowest bytes of its look: x and y of its normal. */
function getLit(): Float32Array {
  const [lx, ly, lz] = LIGHT;
  return (litOfSlope ??= Float32Array.from({ length: 0x10000 }, (_, i) => {
    const nx = (i & 255) / 127.5 - 1,
      ny = (i >> 8) / 127.5 - 1;
    const nz = Math.sqrt(Math.max(0, 1 - nx * nx - ny * ny));
    return (TONES - 1) * Math.min(1, Math.max(0, nx * lx + ny * ly + nz * lz));
  }));
}

const rgbOf = (hex: string): number[] => [1, 3, 5].map((i) => parseInt(hex.slice(i, i + 2), 16));

/** The tiles of a piece, shaded as they look from above, kept up with it. */
export class SheetRelief {
  private readonly columns: number;
  private readonly atlas: OffscreenCanvas;
  private version = -1;
  /** Colour of each tone, as a canvas stores it, opaque to no degree. */
  private readonly palette: Uint32Array;

  constructor(
    private piece: Piece,
    private readonly material: keyof typeof MATERIALS,
    private readonly fill: string | null,
  ) {
    this.columns = Math.max(1, Math.ceil(Math.sqrt(piece.keys.length)));
    this.atlas = new OffscreenCanvas(this.columns * TILE, this.columns * TILE);
    const { light, body, dark } = CUT_LOOKS[material];
    const filled = fill ? rgbOf(fill) : null;
    const [bright, middle, low] = filled
      ? [filled.map((v) => Math.min(255, v + 70)), filled, filled.map((v) => 0.5 * v)]
      : [rgbOf(light), rgbOf(body), rgbOf(dark)];
    this.palette = Uint32Array.from({ length: TONES }, (_, i) => {
      const tone = i / (TONES - 1);
      const [red, green, blue] = low!.map((v, k) =>
        Math.round(tone < 0.6 ? v + (tone / 0.6) * (middle![k]! - v) : middle![k]! + ((tone - 0.6) / 0.4) * (bright![k]! - middle![k]!)),
      );
      return red! + green! * 0x100 + blue! * 0x10000;
    });
    this.follow(piece);
  }

  /** Whether it can go on with a piece, looked at so. */
  suits(piece: Piece, material: string, fill: string | null): boolean {
    return this.piece.keys === piece.keys && this.material === material && this.fill === fill;
  }

  /** Shades what changed since it was last asked. */
  follow(piece: Piece): void {
    if (piece.version === this.version) return;
    const isNext = this.version + 1 === piece.version;
    this.piece = piece;
    this.version = piece.version;
    this.shade((isNext ? piece.changed : null) ?? Array.from(piece.keys, (_, slot) => slot));
  }

  /** Shades tiles into the atlas, high rows on top. */
  private shade(slots: readonly number[]): void {
    const {
      piece: { look },
      columns,
      palette,
    } = this;
    const looks = new Uint32Array(look.buffer, look.byteOffset, look.length / 4);
    const lit = getLit();
    const context = this.atlas.getContext('2d')!;
    const tile = context.createImageData(TILE, TILE);
    const pixels = new Uint32Array(tile.data.buffer);
    for (const slot of slots) {
      for (let r = 0; r < TILE; r++) {
        let from = PICTURE_CELLS * slot + (r + 1) * PICTURE + 1,
          out = (TILE - 1 - r) * TILE;
        for (let c = 0; c < TILE; c++, from++, out++) {
          const seen = looks[from]!;
          const cut = (seen >>> 16) & 255;
          const tone = lit[seen & 0xffff]! * (1 - (DEEP / 255) * (seen >>> 24));
          pixels[out] = cut === 0 ? 0 : palette[tone | 0]! + cut * 0x1000000;
        }
      }
      context.putImageData(tile, (slot % columns) * TILE, Math.floor(slot / columns) * TILE);
    }
  }

  /** Draws the tiles that are seen. */
  draw(context: Context, { size, transform: t, ratio }: SheetWindow): void {
    context.setTransform(ratio, 0, 0, ratio, 0, 0);
    const { grid, keys } = this.piece;
    const [w, h] = [TILE * grid.cellX * t.k, TILE * grid.cellY * t.k];
    context.imageSmoothingEnabled = grid.cellX * t.k * ratio < 4;
    context.imageSmoothingQuality = 'high';
    for (const [slot, key] of keys.entries()) {
      const x = t.x + (grid.minX + (key % grid.tilesAlong) * TILE * grid.cellX) * t.k;
      const row = Math.floor(key / grid.tilesAlong) * TILE;
      const y = t.y - (grid.minY + (row + TILE) * grid.cellY) * t.k;
      if (x > size.width || y > size.height || x + w < 0 || y + h < 0) continue;
      const { columns, atlas } = this;
      context.drawImage(atlas, (slot % columns) * TILE, Math.floor(slot / columns) * TILE, TILE, TILE, x, y, w, h);
    }
  }

  /** Marks the cells that are not as meant: too deep, or left. */
  drawFaults(context: Context, window: SheetWindow): void {
    const { piece } = this;
    const { map } = piece.verdict ?? {};
    if (!map) return;
    const { cellX, cellY } = piece.grid;
    lieOnSheet(context, window);
    const least = FAULT_PX / (window.ratio * window.transform.k);
    const [wide, high] = [Math.max(cellX, least), Math.max(cellY, least)];
    for (let i = 0; i < map.offMm.length; i++) {
      context.fillStyle = map.offMm[i]! > 0 ? OUTSIDE_COLOUR : LEFT_COLOUR;
      context.fillRect(map.xy[2 * i]! - wide / 2, map.xy[2 * i + 1]! - high / 2, wide, high);
    }
  }

  /** Paints over the relief what is left inside areas of lettering, and what is cut beside them. */
  drawDifference(context: Context, window: SheetWindow, areas: readonly string[]): void {
    const { width, height } = context.canvas;
    const paths = areas.map((data) => new Path2D(data));
    const layer = (paint: (context: OffscreenCanvasRenderingContext2D) => void): OffscreenCanvas => {
      const made = new OffscreenCanvas(width, height);
      paint(made.getContext('2d')!);
      return made;
    };
    const cut = layer((c) => this.draw(c, window));
    const left = layer((c) => {
      lieOnSheet(c, window);
      c.fillStyle = LEFT_COLOUR;
      for (const path of paths) c.fill(path);
      c.setTransform(1, 0, 0, 1, 0, 0);
      c.globalCompositeOperation = 'destination-out';
      c.drawImage(cut, 0, 0);
    });
    const outside = layer((c) => {
      lieOnSheet(c, window);
      c.strokeStyle = OUTSIDE_COLOUR;
      c.lineWidth = 2 * BESIDE_MM;
      for (const path of paths) c.stroke(path);
      c.setTransform(1, 0, 0, 1, 0, 0);
      c.globalCompositeOperation = 'destination-in';
      c.drawImage(cut, 0, 0);
      lieOnSheet(c, window);
      c.globalCompositeOperation = 'destination-out';
      for (const path of paths) c.fill(path);
    });
    context.setTransform(1, 0, 0, 1, 0, 0);
    context.drawImage(left, 0, 0);
    context.drawImage(outside, 0, 0);
  }
}

/** Millimetres of the sheet, y up. */
export function lieOnSheet(context: Context, { transform: t, ratio }: SheetWindow): void {
  context.setTransform(ratio * t.k, 0, 0, -ratio * t.k, ratio * t.x, ratio * t.y);
}
