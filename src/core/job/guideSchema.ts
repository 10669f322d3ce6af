import { z } from 'zod';
import { angleDeg, id, label, lengthMm, pointMm } from './fields';

/** Largest number of nodes of one drawn or imported guide. */
export const MAX_GUIDE_NODES = 5000;

/** A node of a free guide; `in` and `out` are its Bezier handles, relative to it, (0, 0) for a corner. */
export const guideNodeSchema = z.strictObject({ ...pointMm.shape, inMm: pointMm, outMm: pointMm });

const common = { id, name: label };

/** What a baseline follows, on the sheet, mm. Construction only: never cut. */
export const guideSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('line'), ...common, from: pointMm, to: pointMm }),
  /** Part of a circle from `startDeg` on, counter-clockwise for a positive sweep; ±360 is the whole circle. */
  z.strictObject({
    kind: z.literal('arc'),
    ...common,
    centre: pointMm,
    radiusMm: lengthMm(0.01, 10000),
    startDeg: angleDeg(-720, 720),
    sweepDeg: angleDeg(-360, 360),
  }),
  /** All the way round the blank at x, from `startDeg` of turn on. */
  z.strictObject({ kind: z.literal('around'), ...common, xMm: lengthMm(-20000, 20000), startDeg: angleDeg(-720, 720) }),
  z.strictObject({
    kind: z.literal('path'),
    ...common,
    closed: z.boolean(),
    nodes: z.array(guideNodeSchema).max(MAX_GUIDE_NODES, `must have at most ${MAX_GUIDE_NODES} nodes`),
  }),
]);

export type Guide = z.infer<typeof guideSchema>;
export type GuideNode = z.infer<typeof guideNodeSchema>;
