import { useMemo } from 'react';
import * as THREE from 'three';
import { MOVE } from '../../../core/lay/laidPaths';
import type { Surface } from '../../../core/surface/surface';
import type { PlanView } from '../../../workers/planning.client';
import { Lines } from './Drawn';
import { colourOfDepth } from '../passPaths';

/** Height of drawn passes over the surface, mm. */
const PASS_LIFT_MM = 0.035;

/** Passes drawn on the surface over their place, coloured by depth: the groove itself would hide them. */
export function PassLines({ plan, surface }: { plan: PlanView; surface: Surface }) {
  const { positions, colours } = useMemo(() => {
    const { laid } = plan;
    const deepest = Math.max(1e-9, ...plan.cuts.map((c) => c.maxDepthMm));
    const out: number[] = [];
    const tint: number[] = [];
    const frame = new Float64Array(6),
      bend = new Float64Array(3);
    const colour = new THREE.Color();
    for (let i = 1; i < laid.count; i++) {
      if (laid.kind[i] !== MOVE.cut) continue;
      const [x0, y0, d0, x1, y1, d1] = Array.from({ length: 6 }, (_, k) => laid.sheet[3 * i - 3 + k]!) as [
        number,
        number,
        number,
        number,
        number,
        number,
      ];
      // Straight on the sheet is bent on the blank: in pieces, or it would sink in.
      surface.bendInto((x0 + x1) / 2, (y0 + y1) / 2, bend);
      const sag = (bend[0]! * (x1 - x0) ** 2 + 2 * bend[1]! * Math.abs((x1 - x0) * (y1 - y0)) + bend[2]! * (y1 - y0) ** 2) / 8;
      const pieces = Math.min(64, Math.max(1, Math.ceil(Math.sqrt((2 * sag) / PASS_LIFT_MM))));
      for (let p = 0; p < pieces; p++) {
        for (const t of [p / pieces, (p + 1) / pieces]) {
          surface.frameInto(x0 + t * (x1 - x0), y0 + t * (y1 - y0), frame);
          for (let a = 0; a < 3; a++) out.push(frame[a]! + PASS_LIFT_MM * frame[3 + a]!);
          colour.set(colourOfDepth(Math.max(0, d0 + t * (d1 - d0)) / deepest));
          tint.push(colour.r, colour.g, colour.b);
        }
      }
    }
    return { positions: Float32Array.from(out), colours: Float32Array.from(tint) };
  }, [plan, surface]);
  return <Lines positions={positions} colours={colours} />;
}
