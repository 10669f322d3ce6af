import { encode } from 'fast-png';
import type { DepthMap } from './depthMap';

/** From where the sheet is lit: along its x, along its y, and over it. */
const LIGHT = [-0.42, 0.48, 0.77] as const;
/** Colours of what is whole and of what is cut, lit fully. */
const WHOLE = [226, 219, 201] as const;
const CUT = [92, 142, 134] as const;
/** How dark the deepest place is against the highest. */
const DEEP = 0.45;
/** Light that comes from everywhere. */
const AMBIENT = 0.4;
export const MAX_PICTURE_PX = 4000;

/**
 * A cut sheet from above as shaded relief, RGB PNG, the highest sheet y on top; cells are joined so that it is no wider or higher than
 * asked. O(cells).
 * @param mostPx Longest side, 1 to `MAX_PICTURE_PX`.
 */
export function toReliefPng(map: DepthMap, mostPx = MAX_PICTURE_PX): Uint8Array {
  const { widthCells, heightCells, fullScaleMm, grey } = map;
  const join = Math.max(1, Math.ceil(Math.max(widthCells, heightCells) / mostPx));
  const width = Math.floor(widthCells / join) || 1,
    height = Math.floor(heightCells / join) || 1;
  const perStep = fullScaleMm / 65535;
  const at = (x: number, y: number): number => {
    const c = Math.min(widthCells - 1, Math.max(0, x)),
      r = Math.min(heightCells - 1, Math.max(0, y));
    return perStep * grey[r * widthCells + c]!;
  };
  const flat = LIGHT[2];
  const data = new Uint8Array(3 * width * height);
  for (let row = 0; row < height; row++) {
    for (let column = 0; column < width; column++) {
      let tone = 0,
        cut = 0;
      for (let j = 0; j < join; j++) {
        for (let i = 0; i < join; i++) {
          const x = column * join + i,
            y = row * join + j;
          const depth = at(x, y);
          const sx = (at(x + 1, y) - at(x - 1, y)) / (2 * map.cellMm[0]),
            sy = (at(x, y - 1) - at(x, y + 1)) / (2 * map.cellMm[1]);
          const lit = Math.max(0, sx * LIGHT[0] + sy * LIGHT[1] + LIGHT[2]) / Math.sqrt(1 + sx * sx + sy * sy);
          tone += (AMBIENT + (1 - AMBIENT) * (lit / flat)) * (1 - (DEEP * depth) / (fullScaleMm || 1));
          if (depth > 0) cut++;
        }
      }
      tone /= join * join;
      cut /= join * join;
      const out = 3 * (row * width + column);
      for (let k = 0; k < 3; k++) data[out + k] = Math.min(255, tone * (WHOLE[k]! + cut * (CUT[k]! - WHOLE[k]!)));
    }
  }
  return encode({ width, height, data, depth: 8, channels: 3 });
}
