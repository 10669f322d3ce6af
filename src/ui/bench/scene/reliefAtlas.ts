import * as THREE from 'three';
import { TILE } from '../../../core/removal/tile';
import { PICTURE, PICTURE_CELLS } from '../../../core/removal/relief';
import type { ShownPiece } from '../../state/piece';

/** All tiles' pictures in two textures: how the relief looks, and how deep it is. */
export interface ReliefAtlas {
  look: THREE.DataTexture;
  depth: THREE.DataTexture;
  /** Tiles in a row. */
  columns: number;
  /** Left and low edge of a tile's own cells, in texels. */
  originOf(slot: number): [number, number];
  /** Takes over the pictures of slots; null for all. */
  update(piece: ShownPiece, slots: readonly number[] | null): void;
  dispose(): void;
}

export function createReliefAtlas(piece: ShownPiece): ReliefAtlas {
  const count = piece.keys.length;
  const columns = Math.max(1, Math.ceil(Math.sqrt(count)));
  const side = columns * PICTURE;
  const lookData = new Uint8Array(4 * side * side);
  const depthData = new Float32Array(side * side);
  const look = new THREE.DataTexture(lookData, side, side, THREE.RGBAFormat, THREE.UnsignedByteType);
  look.minFilter = look.magFilter = THREE.LinearFilter;
  const depth = new THREE.DataTexture(depthData, side, side, THREE.RedFormat, THREE.FloatType);
  depth.minFilter = depth.magFilter = THREE.NearestFilter;
  const put = (from: ShownPiece, slot: number) => {
    const x = (slot % columns) * PICTURE,
      y = Math.floor(slot / columns) * PICTURE;
    for (let r = 0; r < PICTURE; r++) {
      const own = PICTURE_CELLS * slot + r * PICTURE,
        out = (y + r) * side + x;
      lookData.set(from.look.subarray(4 * own, 4 * (own + PICTURE)), 4 * out);
      depthData.set(from.depth.subarray(own, own + PICTURE), out);
    }
  };
  return {
    look,
    depth,
    columns,
    originOf: (slot) => [(slot % columns) * PICTURE + 1, Math.floor(slot / columns) * PICTURE + 1],
    update(from, slots) {
      if (slots) for (const slot of slots) put(from, slot);
      else for (let slot = 0; slot < count; slot++) put(from, slot);
      look.needsUpdate = true;
      depth.needsUpdate = true;
    },
    dispose() {
      look.dispose();
      depth.dispose();
    },
  };
}

/** Which tiles of the sheet are drawn as relief, one texel each: the blank's own skin leaves them out. */
export function createTileMask(piece: Pick<ShownPiece, 'grid' | 'keys'> | null): THREE.DataTexture {
  const [wide, high] = piece ? [piece.grid.tilesAlong, piece.grid.tilesRound] : [1, 1];
  const data = new Uint8Array(wide * high);
  for (const key of piece?.keys ?? []) data[key] = 255;
  const mask = new THREE.DataTexture(data, wide, high, THREE.RedFormat, THREE.UnsignedByteType);
  mask.unpackAlignment = 1;
  mask.needsUpdate = true;
  return mask;
}

/** Steps between the corners of drawn faces, in cells, so that faces are some pixels wide and not more than a number in all. */
export function chooseStep(tiles: number, cellPx: number, maxTriangles: number): number {
  let step = TILE;
  while (step > 1 && step * cellPx > FACE_PX && tiles * 2 * (TILE / (step / 2)) ** 2 <= maxTriangles) step /= 2;
  return step;
}

/** Width of a drawn face, px. */
const FACE_PX = 3;
