import type { ManifoldToplevel } from 'manifold-3d';
import type { Solid } from '../surface/solid';
import type { Triangles } from './patchSolid';

/** What booleans of solids are made with. */
export type SolidKit = Pick<ManifoldToplevel, 'Manifold' | 'Mesh'>;

/**
 * A blank less what was cut out of it, closed.
 * @param blank The whole stock. @param plug What is taken away, from `createPlug`; null for nothing.
 * @throws RangeError if the blank is not closed, as a shape from a file may be.
 */
export function carveBlank(kit: SolidKit, blank: Pick<Solid, 'positions' | 'triangles'>, plug: Triangles | null): Triangles {
  const stock = take(kit, Float32Array.from(blank.positions), blank.triangles);
  if (!stock) throw new RangeError('the blank is not a closed solid; the lettered patch can be had');
  const tool = plug && take(kit, plug.positions, plug.triangles);
  const made = tool ? stock.subtract(tool) : stock;
  const { vertProperties, numProp, triVerts } = made.getMesh();
  const positions = new Float32Array((3 * vertProperties.length) / numProp);
  for (let i = 0; i < positions.length / 3; i++) for (let k = 0; k < 3; k++) positions[3 * i + k] = vertProperties[numProp * i + k]!;
  const triangles = Uint32Array.from(triVerts);
  for (const part of [stock, tool, made === stock ? null : made]) part?.delete();
  return { positions, triangles };
}

/** A closed solid, corners at one place joined; null if it is none. */
function take({ Manifold, Mesh }: SolidKit, vertProperties: Float32Array, triVerts: Uint32Array) {
  const mesh = new Mesh({ numProp: 3, vertProperties, triVerts });
  mesh.merge();
  try {
    const made = new Manifold(mesh);
    return made.status() === 'NoError' && !made.isEmpty() ? made : null;
  } catch {
    return null;
  }
}
