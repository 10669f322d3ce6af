'use client';

import { useEffect, useMemo } from 'react';
import * as THREE from 'three';
import { packRings } from '../../../core/base/rings';
import { fillOnSurface, lineOnSurface } from '../../../core/lay/mesh';
import type { Surface } from '../../../core/surface/surface';
import type { LetteringView } from '../../../workers/planning.client';
import { colourOfStretch } from '../stretchColours';
import { useLayGrid } from '../useLayGrid';
import { Lines } from './Drawn';

/** Chord error of a square of the lay, and how far it is lifted off the blank, mm. */
const SKIN_TOLERANCE_MM = 0.004;
const SKIN_LIFT_MM = 0.006;
/** How far its lines are lifted off its squares, mm. */
const LINE_LIFT_MM = 0.015;

interface Props {
  surface: Surface;
  lettering: LetteringView | null;
}

/** The lay's squares and the letters on the blank, coloured by stretch. */
export function StretchSkin({ surface, lettering }: Props) {
  const squares = useLayGrid(surface);
  const skin = useMemo(() => {
    const positions: number[] = [],
      colours: number[] = [],
      edges: number[] = [];
    const tint = new THREE.Color();
    const put = (xy: number[], colour: string, lift: number): void => {
      const mesh = fillOnSurface(packRings([xy]), surface, lift, SKIN_TOLERANCE_MM);
      tint.set(colour);
      for (const v of mesh.index) positions.push(mesh.positions[3 * v]!, mesh.positions[3 * v + 1]!, mesh.positions[3 * v + 2]!);
      for (let i = 0; i < mesh.index.length; i++) colours.push(tint.r, tint.g, tint.b);
      const line = lineOnSurface(packRings([[...xy, xy[0]!, xy[1]!]]), surface, lift + LINE_LIFT_MM, SKIN_TOLERANCE_MM);
      for (const v of line) edges.push(v);
    };
    // Steep squares are crossed out on the sheet, dark red here.
    squares?.grid.stretch.forEach((stretch, k) =>
      put([...squares.grid.corners.subarray(8 * k, 8 * k + 8)], squares.isSteep(k) ? '#7a2a1d' : colourOfStretch(stretch), SKIN_LIFT_MM),
    );
    for (const { box, stretch } of lettering?.inscriptions.flatMap((i) => i.letters) ?? []) {
      put([box.minX, box.minY, box.maxX, box.minY, box.maxX, box.maxY, box.minX, box.maxY], colourOfStretch(stretch), 2 * SKIN_LIFT_MM);
    }
    return { positions: Float32Array.from(positions), colours: Float32Array.from(colours), edges: Float32Array.from(edges) };
  }, [squares, surface, lettering]);
  const geometry = useMemo(() => {
    const g = new THREE.BufferGeometry();
    g.setAttribute('position', new THREE.BufferAttribute(skin.positions, 3));
    g.setAttribute('color', new THREE.BufferAttribute(skin.colours, 3));
    return g;
  }, [skin]);
  useEffect(() => () => geometry.dispose(), [geometry]);
  return (
    <>
      <mesh geometry={geometry} raycast={() => undefined}>
        <meshBasicMaterial vertexColors side={THREE.DoubleSide} polygonOffset polygonOffsetFactor={1} polygonOffsetUnits={2} />
      </mesh>
      {/* Not seen through: neighbours draw the same line twice. */}
      <Lines positions={skin.edges} colour="#a59c8c" />
    </>
  );
}
