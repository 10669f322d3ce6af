import { useMemo } from 'react';
import { findAtTime } from '../../core/machine/time';
import type { PlanView } from '../../workers/planning.client';
import { useView } from '../state/benchStore';

/** Where the tool is at a time: sheet place, depth, and the block it is in. */
export interface ToolPlace {
  x: number;
  y: number;
  depth: number;
  block: number;
}

export function computeToolPlace(plan: PlanView, timeS: number): ToolPlace | null {
  const { blocks } = plan;
  if (blocks.count === 0) return null;
  const i = findAtTime(blocks.timesS, timeS);
  const at = (k: number) => [blocks.sheet[3 * k]!, blocks.sheet[3 * k + 1]!, blocks.sheet[3 * k + 2]!] as const;
  const to = at(i);
  if (i === 0) return { x: to[0], y: to[1], depth: to[2], block: 0 };
  const from = at(i - 1);
  const span = blocks.timesS[i]! - blocks.timesS[i - 1]!;
  const t = span > 0 ? Math.min(1, Math.max(0, (timeS - blocks.timesS[i - 1]!) / span)) : 1;
  return { x: from[0] + t * (to[0] - from[0]), y: from[1] + t * (to[1] - from[1]), depth: from[2] + t * (to[2] - from[2]), block: i };
}

export function useToolPlace(plan: PlanView | null): ToolPlace | null {
  const playS = useView((v) => v.playS);
  return useMemo(() => (plan ? computeToolPlace(plan, playS) : null), [plan, playS]);
}

/** As it stands in the blank's view: in step with the piece, so that the tip is where the groove ends and both come in one frame. */
export function useShownToolPlace(plan: PlanView | null): ToolPlace | null {
  // Nothing is asked for without a plan: what is drawn in 3D is not to be drawn again for it.
  const shownS = useView((v) => (!plan ? 0 : v.piece?.plan === plan && v.playS !== Infinity ? v.piece.shownS : v.playS));
  return useMemo(() => (plan ? computeToolPlace(plan, shownS) : null), [plan, shownS]);
}
