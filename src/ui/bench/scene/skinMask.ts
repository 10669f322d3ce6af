import * as THREE from 'three';
import type { Surface } from '../../../core/surface/surface';
import type { ShownPiece } from '../../state/piece';
import { TILE } from '../../../core/removal/tile';
import { createTileMask } from './reliefAtlas';

/** How far a corner of a drawn face may lie off the surface and still be a part of its skin, mm, beside the surface's own chords. */
const ON_SKIN_MM = 1e-3;

/** Gives a geometry the sheet place of each corner, and whether it lies on the lettered skin: what the mask asks. */
export function addSheetPlaces(geometry: THREE.BufferGeometry, surface: Surface): void {
  const p = geometry.getAttribute('position');
  const sheet = new Float32Array(3 * p.count);
  const near = ON_SKIN_MM + (surface.chordMm ?? 0) + 1e-5 * Math.abs(surface.topMm);
  for (let i = 0; i < p.count; i++) {
    const at = surface.toSheet(p.getX(i), p.getY(i), p.getZ(i));
    sheet[3 * i] = at.x;
    sheet[3 * i + 1] = at.y;
    sheet[3 * i + 2] = Math.abs(at.heightMm) < near ? 1 : 0;
  }
  geometry.setAttribute('sheet', new THREE.BufferAttribute(sheet, 3));
}

/** Makes a material set back what is drawn as relief elsewhere; nothing until `setMask` says what. Its program is made once. */
export function maskSkin(material: THREE.Material): (surface: Surface, piece: Pick<ShownPiece, 'grid' | 'keys'> | null) => void {
  const uniforms = {
    tileMask: { value: createTileMask(null) },
    tileFrom: { value: new THREE.Vector2() },
    tileSize: { value: new THREE.Vector2(1, 1) },
    tilePeriod: { value: 0 },
    tileRound: { value: 0 },
  };
  material.addEventListener('dispose', () => uniforms.tileMask.value.dispose());
  material.customProgramCacheKey = () => 'skin-mask';
  material.onBeforeCompile = (shader) => {
    Object.assign(shader.uniforms, uniforms);
    shader.vertexShader = shader.vertexShader.replace('void main() {', VERTEX_START);
    shader.fragmentShader = shader.fragmentShader.replace('void main() {', FRAGMENT_START);
  };
  return (surface, piece) => {
    uniforms.tileMask.value.dispose();
    uniforms.tileMask.value = createTileMask(piece);
    if (!piece) return;
    const { grid } = piece;
    uniforms.tileFrom.value.set(grid.minX, grid.minY);
    uniforms.tileSize.value.set(TILE * grid.cellX, TILE * grid.cellY);
    uniforms.tilePeriod.value = surface.periodMm ?? 0;
    uniforms.tileRound.value = surface.round ? surface.mmPerRad : 0;
  };
}

const VERTEX_START = /* glsl */ `
attribute vec3 sheet;
varying vec3 vSheet;
varying vec3 vPlace;
void main() {
  vSheet = sheet;
  vPlace = position;
`;

const FRAGMENT_START = /* glsl */ `
uniform sampler2D tileMask;
uniform vec2 tileFrom;
uniform vec2 tileSize;
uniform float tilePeriod;
uniform float tileRound;
varying vec3 vSheet;
varying vec3 vPlace;
void main() {
  bool hidden = false;
  // Round the blank the angle is taken anew: between corners on either side of the seam it would run back over the whole turn.
  vec2 at = vec2(vSheet.x, tileRound > 0.0 ? tileRound * atan(vPlace.y, vPlace.z) : vSheet.y) - tileFrom;
  if (tilePeriod > 0.0) at.y -= tilePeriod * floor(at.y / tilePeriod);
  ivec2 tile = ivec2(floor(at / tileSize));
  ivec2 most = textureSize(tileMask, 0);
  if (vSheet.z > 0.99 && tile.x >= 0 && tile.y >= 0 && tile.x < most.x && tile.y < most.y && texelFetch(tileMask, tile, 0).r > 0.5) hidden = true;
  // Not left out but set back behind the relief, so that nothing shines through where faces do not quite meet.
  gl_FragDepth = gl_FragCoord.z + 2.0 * fwidth(gl_FragCoord.z) + 5e-7 + (hidden ? 0.01 : 0.0);
`;
