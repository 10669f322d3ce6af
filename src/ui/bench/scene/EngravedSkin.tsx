import { useEffect, useMemo, useRef } from 'react';
import { useThree } from '@react-three/fiber';
import * as THREE from 'three';
import { TILE } from '../../../core/removal/tile';
import { PICTURE } from '../../../core/removal/relief';
import type { Surface } from '../../../core/surface/surface';
import { useJobPart, useView } from '../../state/benchStore';
import type { ShownPiece } from '../../state/piece';
import { createGrain, createMatcap } from '../matcap';
import { colourOfDepth } from '../passPaths';
import { CUT_LOOKS, MATERIALS } from '../preview';
import { GRAIN_MM } from '../Stock';
import { chooseStep, createReliefAtlas, type ReliefAtlas } from './reliefAtlas';

/** Faces drawn at most, on a machine that draws quickly and on one that does not. */
const MAX_TRIANGLES = { quick: 500_000, slow: 60_000 };

const VERTEX = /* glsl */ `
attribute vec3 along;
attribute vec2 atlas;
attribute float outside;
uniform sampler2D depths;
uniform float relief;
varying vec2 vAtlas;
varying vec3 vAlong;
varying vec3 vAcross;
varying vec3 vNormal;
varying vec3 vView;
varying vec2 vGrain;
varying float vOutside;
float depthAt(ivec2 p) { return texelFetch(depths, p, 0).r; }
void main() {
  ivec2 p = ivec2(atlas + 0.5);
  // A corner of four cells stands as deep as they do on the mean.
  float depth = 0.25 * (depthAt(p) + depthAt(p - ivec2(1, 0)) + depthAt(p - ivec2(0, 1)) + depthAt(p - ivec2(1, 1)));
  vec4 seen = modelViewMatrix * vec4(position - relief * depth * normal, 1.0);
  vAtlas = atlas;
  vNormal = normalMatrix * normal;
  vAlong = normalMatrix * along;
  vAcross = normalMatrix * cross(normal, along);
  vView = -seen.xyz;
  vGrain = vec2(position.x, 0.8 * position.y + 0.6 * position.z) / ${GRAIN_MM.toFixed(1)};
  vOutside = outside;
  gl_Position = projectionMatrix * seen;
}`;

const FRAGMENT = /* glsl */ `
uniform sampler2D look;
uniform sampler2D skin;
uniform sampler2D cut;
uniform sampler2D grain;
uniform float hasGrain;
uniform float side;
uniform float opacity;
uniform vec3 paint;
uniform float painted;
uniform float alone;
uniform float byDepth;
uniform sampler2D ramp;
varying vec2 vAtlas;
varying vec3 vAlong;
varying vec3 vAcross;
varying vec3 vNormal;
varying vec3 vView;
varying vec2 vGrain;
varying float vOutside;
vec2 lightOf(vec3 n) {
  vec3 view = isOrthographic ? vec3(0.0, 0.0, 1.0) : normalize(vView);
  vec3 x = normalize(vec3(view.z, 0.0, -view.x));
  vec3 y = cross(view, x);
  return vec2(dot(x, n), dot(y, n)) * 0.495 + 0.5;
}
void main() {
  if (vOutside > 0.5) discard;
  vec4 here = texture2D(look, vAtlas / side);
  vec2 slope = 2.0 * here.rg - 1.0;
  // Without the blank only what is cut is there.
  if (alone > 0.5 && here.b < 0.5) discard;
  slope -= sign(slope) * min(abs(slope), 0.008);
  vec3 n = normalize(vAlong * slope.x + vAcross * slope.y + vNormal * sqrt(max(0.0, 1.0 - dot(slope, slope))));
  vec3 whole = texture2D(skin, lightOf(normalize(vNormal))).rgb;
  if (hasGrain > 0.5) whole *= texture2D(grain, vGrain).rgb;
  vec3 gone = texture2D(cut, lightOf(n)).rgb;
  // The deeper, the less of the room is seen from there.
  gone *= 1.0 - 0.5 * sqrt(here.a);
  vec3 filled = paint * (0.55 + 0.6 * dot(gone, vec3(0.3, 0.6, 0.1)));
  gone = mix(gone, filled, painted);
  float lit = 0.62 + 0.5 * texture2D(cut, lightOf(n)).g;
  gone = mix(gone, texture2D(ramp, vec2(here.a, 0.5)).rgb * min(1.0, lit), byDepth);
  gl_FragColor = vec4(mix(whole, gone, here.b), opacity);
  #include <tonemapping_fragment>
  #include <colorspace_fragment>
}`;

/** Faces of so many cells or fewer stand as deep as they are cut. */
const FINE_STEP = 4;

const setRelief = (shader: THREE.ShaderMaterial, on: boolean): void => {
  shader.uniforms.relief!.value = on ? 1 : 0;
};

const setFill = (shader: THREE.ShaderMaterial, fill: string | null): void => {
  shader.uniforms.painted!.value = fill ? 0.94 : 0;
  if (fill) (shader.uniforms.paint!.value as THREE.Color).set(fill);
};

const setLook = (shader: THREE.ShaderMaterial, alone: boolean, byDepth: boolean): void => {
  shader.uniforms.alone!.value = alone ? 1 : 0;
  shader.uniforms.byDepth!.value = byDepth ? 1 : 0;
  // Grooves without a blank are looked into from behind as well.
  shader.side = alone ? THREE.DoubleSide : THREE.FrontSide;
  shader.needsUpdate = true;
};

const RAMP_STEPS = 256;

/** Colours of depth as a texture. */
function createRamp(): THREE.DataTexture {
  const data = new Uint8Array(4 * RAMP_STEPS);
  const colour = new THREE.Color();
  for (let k = 0; k < RAMP_STEPS; k++) {
    colour.set(colourOfDepth(k / (RAMP_STEPS - 1)));
    data.set([255 * colour.r, 255 * colour.g, 255 * colour.b, 255], 4 * k);
  }
  const made = new THREE.DataTexture(data, RAMP_STEPS, 1);
  made.magFilter = made.minFilter = THREE.LinearFilter;
  made.needsUpdate = true;
  return made;
}

interface Props {
  piece: ShownPiece;
  /** Whether only what is cut is shown, without the blank round it. */
  alone: boolean;
  /** Out of sight while letters are typed; what draws it stays ready. */
  visible: boolean;
  surface: Surface;
  pxPerMm: number;
  quick: boolean;
}

/** The lettered parts of the skin as they are cut: real relief, with the field's own normals on it. */
export function EngravedSkin({ piece, alone, visible, surface: shown, pxPerMm, quick }: Props) {
  const material = useJobPart((j) => j.material);
  const fill = useView((v) => v.fill);
  const invalidate = useThree((s) => s.invalidate);
  const { keys, grid, slots } = piece;
  // The surface that the tiles lie on: another blank that is being set up has no tiles yet.
  // eslint-disable-next-line react-hooks/exhaustive-deps
  const surface = useMemo(() => shown, [keys]);
  // A new program has new tiles; a new moment of the same one has the same.
  // eslint-disable-next-line react-hooks/exhaustive-deps
  const atlas = useMemo(() => createReliefAtlas(piece), [keys]);
  useEffect(() => () => atlas.dispose(), [atlas]);
  const drawn = useRef<{ atlas: ReliefAtlas; version: number } | null>(null);
  useEffect(() => {
    const goesOn = drawn.current?.atlas === atlas && piece.version === drawn.current.version + 1;
    atlas.update(piece, goesOn ? piece.changed : null);
    drawn.current = { atlas, version: piece.version };
    invalidate();
  }, [piece, atlas, invalidate]);
  const step = chooseStep(keys.length, pxPerMm * Math.min(grid.cellX, grid.cellY), quick ? MAX_TRIANGLES.quick : MAX_TRIANGLES.slow);
  const geometry = useMemo(() => createTiles({ keys, grid, slots }, surface, atlas, step), [keys, grid, slots, surface, atlas, step]);
  useEffect(() => () => geometry.dispose(), [geometry]);
  const look = MATERIALS[material];
  const shader = useMemo(() => {
    const grain = createGrain(look.grain);
    const made = new THREE.ShaderMaterial({
      vertexShader: VERTEX,
      fragmentShader: FRAGMENT,
      uniforms: {
        depths: { value: atlas.depth },
        look: { value: atlas.look },
        skin: { value: createMatcap(look) },
        cut: { value: createMatcap(CUT_LOOKS[material]) },
        grain: { value: grain },
        hasGrain: { value: grain ? 1 : 0 },
        side: { value: atlas.columns * PICTURE },
        opacity: { value: look.opacity },
        paint: { value: new THREE.Color('#1c1a17') },
        painted: { value: 0 },
        relief: { value: 1 },
        alone: { value: 0 },
        byDepth: { value: 0 },
        ramp: { value: createRamp() },
      },
      transparent: look.opacity < 1,
      polygonOffset: true,
      polygonOffsetFactor: 2,
      polygonOffsetUnits: 8,
    });
    return made;
  }, [look, material, atlas]);
  useEffect(() => {
    setFill(shader, fill);
    invalidate();
  }, [shader, fill, invalidate]);
  const byDepth = useView((v) => v.byDepth);
  useEffect(() => {
    setLook(shader, alone, byDepth);
    invalidate();
  }, [shader, alone, byDepth, invalidate]);
  // Faces wider than a groove would only make its edge ragged.
  useEffect(() => {
    setRelief(shader, step <= FINE_STEP);
    invalidate();
  }, [shader, step, invalidate]);
  useEffect(
    () => () => {
      for (const name of ['skin', 'cut', 'grain', 'ramp']) (shader.uniforms[name]!.value as THREE.Texture | null)?.dispose();
      shader.dispose();
    },
    [shader],
  );
  return <mesh visible={visible} geometry={geometry} material={shader} raycast={() => undefined} frustumCulled={false} />;
}

/** Faces of all tiles, on the surface; how deep they stand is read from the atlas as they are drawn. */
function createTiles(
  { keys, grid }: Pick<ShownPiece, 'keys' | 'grid' | 'slots'>,
  surface: Surface,
  atlas: ReliefAtlas,
  step: number,
): THREE.BufferGeometry {
  const side = TILE / step + 1;
  const count = keys.length * side * side;
  const position = new Float32Array(3 * count),
    normal = new Float32Array(3 * count),
    along = new Float32Array(3 * count),
    at = new Float32Array(2 * count),
    outside = new Float32Array(count);
  const index = new Uint32Array(6 * keys.length * (side - 1) ** 2);
  const f = new Float64Array(6),
    g = new Float64Array(3);
  const maxX = grid.minX + grid.columns * grid.cellX,
    maxY = grid.minY + grid.rows * grid.cellY;
  const reach = 0.1 * grid.cellX;
  let v = 0,
    t = 0;
  for (const [slot, key] of keys.entries()) {
    const x0 = grid.minX + (key % grid.tilesAlong) * TILE * grid.cellX,
      y0 = grid.minY + Math.floor(key / grid.tilesAlong) * TILE * grid.cellY;
    const [u0, v0] = atlas.originOf(slot);
    const first = v;
    for (let r = 0; r < side; r++) {
      for (let c = 0; c < side; c++) {
        const x = Math.min(maxX, x0 + c * step * grid.cellX),
          y = Math.min(maxY, y0 + r * step * grid.cellY);
        surface.frameInto(x, y, f);
        surface.pointInto(x + reach, y, g);
        const e = [g[0]! - f[0]!, g[1]! - f[1]!, g[2]! - f[2]!];
        const lift = e[0]! * f[3]! + e[1]! * f[4]! + e[2]! * f[5]!;
        for (let k = 0; k < 3; k++) e[k]! -= lift * f[3 + k]!;
        const l = Math.hypot(e[0]!, e[1]!, e[2]!) || 1;
        for (let k = 0; k < 3; k++) {
          position[3 * v + k] = f[k]!;
          normal[3 * v + k] = f[3 + k]!;
          along[3 * v + k] = e[k]! / l;
        }
        at[2 * v] = u0 + (x - x0) / grid.cellX;
        at[2 * v + 1] = v0 + (y - y0) / grid.cellY;
        outside[v] = surface.outline && surface.outsideMm(x, y) > 0 ? 1 : 0;
        v++;
      }
    }
    for (let r = 0; r + 1 < side; r++) {
      for (let c = 0; c + 1 < side; c++) {
        const a = first + r * side + c,
          b = a + side;
        index.set([a, a + 1, b + 1, a, b + 1, b], t);
        t += 6;
      }
    }
  }
  const geometry = new THREE.BufferGeometry();
  geometry.setAttribute('position', new THREE.BufferAttribute(position, 3));
  geometry.setAttribute('normal', new THREE.BufferAttribute(normal, 3));
  geometry.setAttribute('along', new THREE.BufferAttribute(along, 3));
  geometry.setAttribute('atlas', new THREE.BufferAttribute(at, 2));
  geometry.setAttribute('outside', new THREE.BufferAttribute(outside, 1));
  geometry.setIndex(new THREE.BufferAttribute(index, 1));
  return geometry;
}
