import { describe, expect, it } from 'vitest';
import { carveJob, planJob } from '../tests/support';
import { toPathLines } from '../src/core/export/report';
import { createBlank } from '../src/core/job/defaults';
import type { Job } from '../src/core/job/schema';

/**
 * What a tip with a flat leaves along the outline and in its corners: on a plate the groove at the surface is a union of discs about the
 * exported path, so that the distance of an outline place from it is plain.
 * Shares no code with the proof. Elementary; common practice, no source.
 */
function sweepLeft(
  lines: readonly string[],
  halfAngleDeg: number,
  tipMm: number,
  xy: ArrayLike<number>,
  starts: ArrayLike<number>,
): number {
  const tan = Math.tan((halfAngleDeg * Math.PI) / 180);
  const discs: number[] = [];
  for (const line of lines) {
    const path = JSON.parse(line) as { kind: string; tip: number[][] };
    if (path.kind !== 'cut') continue;
    for (let i = 1; i < path.tip.length; i++) {
      const [p, q] = [path.tip[i - 1]!, path.tip[i]!];
      const n = Math.max(1, Math.ceil(Math.hypot(q[0]! - p[0]!, q[1]! - p[1]!) / 0.002));
      for (let k = 0; k <= n; k++) {
        const [x, y, z] = [0, 1, 2].map((c) => p[c]! + (k / n) * (q[c]! - p[c]!)) as [number, number, number];
        if (z <= 0) discs.push(x, y, tipMm / 2 - z * tan);
      }
    }
  }
  let worst = 0;
  for (let k = 0; k + 1 < starts.length; k++) {
    const [from, n] = [starts[k]!, starts[k + 1]! - starts[k]!];
    for (let i = 0; i < n; i++) {
      const a = 2 * (from + i),
        b = 2 * (from + ((i + 1) % n));
      const parts = Math.max(1, Math.ceil(Math.hypot(xy[b]! - xy[a]!, xy[b + 1]! - xy[a + 1]!) / 0.01));
      for (let j = 0; j < parts; j++) {
        const x = xy[a]! + (j / parts) * (xy[b]! - xy[a]!),
          y = xy[a + 1]! + (j / parts) * (xy[b + 1]! - xy[a + 1]!);
        let left = Infinity;
        for (let d = 0; d < discs.length && left > 0; d += 3) {
          const dx = x - discs[d]!,
            dy = y - discs[d + 1]!;
          left = Math.min(left, Math.sqrt(dx * dx + dy * dy) - discs[d + 2]!);
        }
        worst = Math.max(worst, left);
      }
    }
  }
  return worst;
}

const plate = (text: string, heightMm: number, tipMm: number, includedDeg: number, font = 'cinzel-bold', maxDepthMm = 3): Job => {
  const job = carveJob(text, {
    font,
    words: { heightMm, rotationDeg: 0, at: { xMm: 30, turnDeg: 0 } },
    tool: { tipMm, includedDeg },
    carve: { maxDepthMm },
  });
  return { ...job, blank: createBlank('plate') };
};

describe('what is left where the tip does not fit', () => {
  it.each([
    ['small letters', plate('NAW', 1, 0.1, 60)],
    ['a limited floor', plate('EZ', 4, 0.1, 60, 'dejavu-sans-bold', 0.2)],
    ['a script', plate('Qk', 5, 0.1, 60, 'great-vibes')],
    ['a wide tip', plate('MK', 6, 0.5, 90, 'dejavu-sans-bold')],
  ])(
    '%s: reported and swept agree within a twentieth or 1 µm',
    async (name, job) => {
      const { setup, plan, lettering, proof } = await planJob(job);
      const { regions } = lettering.artworks[0]!;
      const swept =
        1000 * sweepLeft([...toPathLines(setup, plan)], job.tools[0]!.includedDeg / 2, job.tools[0]!.tipMm, regions.xy, regions.starts);
      const reported = proof.edge!.maxUncutUm;
      console.info(`${name}: reported ${reported.toFixed(1)}, swept ${swept.toFixed(1)} µm`);
      expect(Math.abs(reported - swept)).toBeLessThan(Math.max(1, 0.05 * swept));
      expect(swept).toBeGreaterThan(15);
    },
    120_000,
  );
});
