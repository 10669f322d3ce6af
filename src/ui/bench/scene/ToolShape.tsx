import { useMemo } from 'react';
import * as THREE from 'three';
import type { Tool } from '../../../core/job/schema';
import { getStance } from '../../../core/machine/registry';
import { createWork } from '../../../core/machine/stance';
import { listRuns } from '../../../core/pipeline/setup';
import type { Surface } from '../../../core/surface/surface';
import type { PlanView } from '../../../workers/planning.client';
import { useJobPart, useView } from '../../state/benchStore';
import { createCutterShape, widthAt } from '../../../core/removal/cutterShape';
import { useShownToolPlace } from '../playhead';

/** The cutter at the playhead, with its shank and holder, in their true sizes, standing as the machine lets it. */
export function ToolShape({ plan, surface }: { plan: PlanView | null; surface: Surface }) {
  const cuts = useJobPart((j) => j.cuts);
  const tools = useJobPart((j) => j.tools);
  const machine = useJobPart((j) => j.machine);
  const blank = useJobPart((j) => j.blank);
  const zero = useJobPart((j) => j.zero);
  const motion = useJobPart((j) => j.motion);
  const place = useShownToolPlace(plan);
  const finished = useView((v) => v.playS === Infinity);
  // Over the finished piece it would only stand in the way.
  if (!plan || !place || finished) return null;
  const tool = listRuns({ cuts, tools })[plan.laid.run[plan.blocks.move[place.block]!]!]?.tool;
  if (!tool) return null;
  const f = new Float64Array(6);
  createWork(surface, getStance({ machine, blank, zero, motion })).poseInto(place.x, place.y, f);
  const normal = new THREE.Vector3(f[3], f[4], f[5]);
  const tip = new THREE.Vector3(f[0], f[1], f[2]).addScaledVector(normal, -place.depth);
  const turn = new THREE.Quaternion().setFromUnitVectors(new THREE.Vector3(0, 1, 0), normal);
  return <Cutter tool={tool} position={tip} quaternion={turn} />;
}

function Cutter({ tool, position, quaternion }: { tool: Tool; position: THREE.Vector3; quaternion: THREE.Quaternion }) {
  const { edge, shank, holder } = useMemo(() => {
    const shape = createCutterShape(tool);
    const flute = Math.max(tool.fluteLengthMm, shape.parts[shape.parts.length - 1]!.fromMm);
    const at = (h: number) => new THREE.Vector2(widthAt(shape, h), h);
    const heights = shape.parts.flatMap((p) => {
      const to = Math.min(p.toMm, flute);
      // A round part in steps.
      const steps = p.m === 1 ? 1 : p.radiusSquared > 0 ? 12 : 1;
      return Array.from({ length: steps }, (_, k) => p.fromMm + ((k + 1) / steps) * (to - p.fromMm));
    });
    const corner = shape.cornerMm > 0 ? Array.from({ length: 12 }, (_, k) => shape.cornerMm * ((k + 1) / 12) ** 2) : [];
    const outline = [new THREE.Vector2(0, 0), new THREE.Vector2(Math.max(shape.flatMm, 1e-4), 0), ...[...corner, ...heights].map(at)];
    const top = Math.max(flute + 0.1, tool.stickOutMm);
    const body = (radiusMm: number, fromMm: number, toMm: number) => [
      new THREE.Vector2(0, fromMm),
      new THREE.Vector2(radiusMm, fromMm),
      new THREE.Vector2(radiusMm, toMm),
      new THREE.Vector2(0, toMm),
    ];
    return {
      edge: [...outline, new THREE.Vector2(0, flute)],
      shank: body(tool.shankMm / 2, flute, top),
      holder: tool.holderMm > 0 ? body(tool.holderMm / 2, top, top + tool.holderLengthMm) : null,
    };
  }, [tool]);
  return (
    <group position={position} quaternion={quaternion} raycast={() => undefined}>
      <mesh raycast={() => undefined}>
        <latheGeometry args={[edge, 48]} />
        <meshLambertMaterial color="#7c8a91" transparent opacity={0.82} side={THREE.DoubleSide} />
      </mesh>
      <mesh raycast={() => undefined}>
        <latheGeometry args={[shank, 48]} />
        <meshLambertMaterial color="#4d5a61" transparent opacity={0.45} side={THREE.DoubleSide} />
      </mesh>
      {holder && (
        <mesh raycast={() => undefined}>
          <latheGeometry args={[holder, 64]} />
          <meshLambertMaterial color="#39444a" transparent opacity={0.28} side={THREE.DoubleSide} depthWrite={false} />
        </mesh>
      )}
      <mesh raycast={() => undefined} renderOrder={5}>
        <sphereGeometry args={[Math.max(0.05 * tool.diameterMm, 0.08), 16, 12]} />
        <meshBasicMaterial color="#b3261e" depthTest={false} transparent opacity={0.85} />
      </mesh>
    </group>
  );
}
