import { describe, expect, it } from 'vitest';
import { createRandom, rect, ringsOf } from '../../../tests/support';
import { createBlank, DEFAULT_MOTION } from '../job/defaults';
import { createZero } from '../job/zero';
import type { Blank } from '../job/schema';
import { createWork } from '../machine/stance';
import { getStance } from '../machine/registry';
import { DEFAULT_MACHINE } from '../job/defaults';
import { packOutline } from '../medial/outline';
import { createSurface } from '../surface/registry';
import { AllowedDepth } from './allowedDepth';
import { createVProfile } from './profile';
import { SegmentLeast } from './segmentLeast';

describe('SegmentLeast', () => {
  // Every place of the segment asked, a few hundredths of a micrometre apart round the least; it shares nothing with the search.
  it('of a flat tip that leans finds the least along a segment: under it, on its rim, on its flank', () => {
    const random = createRandom(11);
    const flatMm = 0.05;
    const profile = createVProfile(60, 2 * flatMm);
    const cone = { ...createBlank('cone'), datumDiameterMm: 30, farDiameterMm: 46, lengthMm: 60 } as Blank;
    const work = createWork(
      createSurface(cone),
      getStance({ machine: DEFAULT_MACHINE, blank: cone, zero: createZero(), motion: DEFAULT_MOTION }),
    );
    let worst = 0;
    for (let n = 0; n < 400; n++) {
      const [x, y] = [20 + 20 * random(), 20 * random() - 10];
      const around = (): [number, number] => [x + (random() - 0.5) * 0.4, y + (random() - 0.5) * 0.4];
      const [ax, ay] = around(),
        [bx, by] = around();
      const outline = packOutline(ringsOf([ax, ay, bx, by, ...around()]));
      const depth = new AllowedDepth(work, profile);
      depth.moveTo(x, y);
      const found = new SegmentLeast(outline, depth, flatMm, true).find(0, Infinity, 1);
      const j = outline.next[0]!;
      const at = (u: number): number =>
        depth.to(
          outline.xy[0]! + u * (outline.xy[2 * j]! - outline.xy[0]!),
          outline.xy[1]! + u * (outline.xy[2 * j + 1]! - outline.xy[1]!),
        );
      let [lo, hi, least] = [0, 1, Infinity];
      for (let round = 0; round < 3; round++) {
        let best = lo;
        for (let k = 0; k <= 200; k++) {
          const u = lo + ((hi - lo) * k) / 200;
          const own = at(u);
          if (own < least) [least, best] = [own, u];
        }
        const width = (hi - lo) / 100;
        [lo, hi] = [Math.max(0, best - width), Math.min(1, best + width)];
      }
      worst = Math.max(worst, found - least);
    }
    // Deeper than is allowed by no more than a hundredth of what counts.
    expect(worst).toBeLessThan(2e-5);
  });

  it('of a sharp tip is the foot of the perpendicular on a plate', () => {
    const plate = createBlank('plate');
    const work = createWork(
      createSurface(plate),
      getStance({ machine: DEFAULT_MACHINE, blank: plate, zero: createZero(), motion: DEFAULT_MOTION }),
    );
    const outline = packOutline(ringsOf(rect(0, 0, 10, 4)));
    const depth = new AllowedDepth(work, createVProfile(90, 0));
    depth.moveTo(3, 1.5);
    const least = new SegmentLeast(outline, depth, 0, false);
    expect(least.find(0, Infinity, 1)).toBeCloseTo(1.5, 9);
    expect(least.share).toBeCloseTo(0.3, 6);
  });
});
