import { useMemo } from 'react';
import * as THREE from 'three';
import type { Tool } from '../../../core/job/schema';
import { getStance } from '../../../core/machine/registry';
import { createWork } from '../../../core/machine/stance';
import { listRuns } from '../../../core/pipeline/setup';
import type { Surface } from '../../../core/surface/surface';
import type { PlanView } from '../../../workers/planning.client';
import { useJobPart } from '../../state/benchStore';
import { useToolPlace } from '../playhead';

const DEG = Math.PI / 180;

/** The cutter at the playhead, in its true shape, standing as the machine lets it. */
export function ToolShape({ plan, surface }: { plan: PlanView | null; surface: Surface }) {
  const cuts = useJobPart((j) => j.cuts);
  const tools = useJobPart((j) => j.tools);
  const machine = useJobPart((j) => j.machine);
  const blank = useJobPart((j) => j.blank);
  const place = useToolPlace(plan);
  if (!plan || !place) return null;
  const tool = listRuns({ cuts, tools })[plan.laid.run[plan.blocks.move[place.block]!]!]?.tool;
  if (!tool) return null;
  const f = new Float64Array(6);
  createWork(surface, getStance(machine, blank)).poseInto(place.x, place.y, f);
  const normal = new THREE.Vector3(f[3], f[4], f[5]);
  const tip = new THREE.Vector3(f[0], f[1], f[2]).addScaledVector(normal, -place.depth);
  const turn = new THREE.Quaternion().setFromUnitVectors(new THREE.Vector3(0, 1, 0), normal);
  return <Cutter tool={tool} position={tip} quaternion={turn} />;
}

function Cutter({ tool, position, quaternion }: { tool: Tool; position: THREE.Vector3; quaternion: THREE.Quaternion }) {
  const points = useMemo(() => {
    const r = tool.diameterMm / 2;
    const flat = tool.kind === 'v' ? tool.tipMm / 2 : tool.kind === 'flat' ? r : 0.01;
    const cone = tool.kind === 'flat' ? 0 : (r - flat) / Math.tan((tool.includedDeg * DEG) / 2);
    return [
      [0, 0],
      [flat, 0],
      [r, cone],
      [r, cone + 3 * tool.diameterMm],
      [0, cone + 3 * tool.diameterMm],
    ].map(([x, y]) => new THREE.Vector2(x, y));
  }, [tool]);
  return (
    <mesh position={position} quaternion={quaternion}>
      <latheGeometry args={[points, 48]} key={tool.id} />
      <meshLambertMaterial color="#1f6f63" transparent opacity={0.62} />
    </mesh>
  );
}
