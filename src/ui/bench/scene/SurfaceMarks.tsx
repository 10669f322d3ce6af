import { useEffect, useMemo } from 'react';
import * as THREE from 'three';
import { packRings } from '../../../core/base/rings';
import { lineOnSurface } from '../../../core/lay/mesh';
import type { FaultMap } from '../../../core/intent/verdict';
import type { Surface } from '../../../core/surface/surface';
import type { LetteringView } from '../../../workers/planning.client';
import { useView } from '../../state/benchStore';
import { LEFT_COLOUR, OUTSIDE_COLOUR } from '../unrolled/sheetRelief';
import { Lines } from './Drawn';
import { useThrottled, type FrameCost } from '../useThrottled';

export function SeamLine({ surface }: { surface: Surface }) {
  const positions = useMemo(() => {
    if (surface.periodMm === null) return new Float32Array(0);
    const { minX, maxX, maxY } = surface.domain;
    return lineOnSurface(packRings([[minX, maxY, maxX, maxY]]), surface, 0.05, 0.01);
  }, [surface]);
  return positions.length > 0 ? <Lines positions={positions} colour="#2b2722" /> : null;
}

/** Where what is selected begins to read, in which direction, and which way is up, as on the unrolled view. */
export function ReadingMarks({ lettering, surface }: { lettering: LetteringView | null; surface: Surface }) {
  const selection = useView((v) => v.selection);
  const positions = useMemo(() => {
    const out: number[] = [];
    const frame = new Float64Array(6);
    const size = surface.round ? 0.06 * surface.mmPerRad : 0.03 * (surface.domain.maxX - surface.domain.minX);
    for (const i of lettering?.inscriptions ?? []) {
      if (!selection.includes(i.id) || i.box.minX > i.box.maxX) continue;
      const [x, y, rx, ry, ux, uy] = i.reading as unknown as [number, number, number, number, number, number];
      const put = (a: number, b: number) => {
        surface.frameInto(x + size * (a * rx + b * ux), y + size * (a * ry + b * uy), frame);
        for (let k = 0; k < 3; k++) out.push(frame[k]! + 0.06 * frame[3 + k]!);
      };
      for (const [a, b] of [
        [-0.5, 0.9],
        [-0.5, 0],
        [-0.5, 0],
        [0.9, 0],
        [0.5, 0.25],
        [0.9, 0],
        [0.9, 0],
        [0.5, -0.25],
      ] as const)
        put(a, b);
    }
    return Float32Array.from(out);
  }, [lettering, surface, selection]);
  return positions.length > 0 ? <Lines positions={positions} colour="#1f6f63" /> : null;
}

/** Lifted off the skin by so much, mm, so that the marks are not half hidden in it. */
const LIFTED_MM = 0.03;
const FAULT_PX = 4;

/** Where the piece is not what was meant: one colour for too deep, one for left. */
export function FaultMarks({ map, surface }: { map: FaultMap | null; surface: Surface }) {
  const geometry = useMemo(() => {
    const made = new THREE.BufferGeometry();
    if (!map) return made;
    const count = map.offMm.length;
    const position = new Float32Array(3 * count),
      colour = new Float32Array(3 * count);
    const frame = new Float64Array(6);
    const [deep, left] = [new THREE.Color(OUTSIDE_COLOUR), new THREE.Color(LEFT_COLOUR)];
    for (let i = 0; i < count; i++) {
      surface.frameInto(map.xy[2 * i]!, map.xy[2 * i + 1]!, frame);
      for (let k = 0; k < 3; k++) position[3 * i + k] = frame[k]! + LIFTED_MM * frame[3 + k]!;
      (map.offMm[i]! > 0 ? deep : left).toArray(colour, 3 * i);
    }
    made.setAttribute('position', new THREE.BufferAttribute(position, 3));
    made.setAttribute('color', new THREE.BufferAttribute(colour, 3));
    return made;
  }, [map, surface]);
  useEffect(() => () => geometry.dispose(), [geometry]);
  if (!map || map.offMm.length === 0) return null;
  return (
    <points geometry={geometry} raycast={() => undefined}>
      <pointsMaterial size={FAULT_PX} sizeAttenuation={false} vertexColors />
    </points>
  );
}

export function CursorMark({ surface, size, cost }: { surface: Surface; size: readonly number[]; cost: React.RefObject<FrameCost> }) {
  const cursor = useThrottled(
    useView((v) => v.cursor),
    cost,
    true,
  );
  if (!cursor || surface.outsideMm(cursor.x, cursor.y) > 0) return null;
  const p = new Float64Array(3);
  surface.pointInto(cursor.x, cursor.y, p);
  return (
    <mesh position={[p[0]!, p[1]!, p[2]!]}>
      <sphereGeometry args={[0.009 * Math.max(...size), 16, 12]} />
      <meshBasicMaterial color="#a67a1e" />
    </mesh>
  );
}
