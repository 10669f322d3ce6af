import { describe, expect, it } from 'vitest';
import { carveJob, machineWith, planJob, readNc, textOf } from '../../../tests/support';
import { TABLE_MACHINE } from '../job/defaults';
import type { Job, Machine } from '../job/schema';
import { MOVE } from './laidPaths';

const around = (machine: Machine): Job => ({
  ...carveJob('HOBEL HOBEL HOBEL', { words: { heightMm: 5, at: { xMm: 40, turnDeg: 0 }, fit: { to: 'turn', gapMm: 3, by: 'spacing' } } }),
  machine,
  zero: { along: 'datum', across: 'middle', turnDeg: 0, centreMm: { xMm: 0, yMm: 0, zMm: -60 } },
});

describe('turning axes with limits', () => {
  it.each([
    ['rotary', machineWith({ range: { minDeg: -185, maxDeg: 185 } }), 'A'],
    [
      'table',
      {
        ...TABLE_MACHINE,
        layout: { ...TABLE_MACHINE.layout, turn: { ...TABLE_MACHINE.layout.turn, range: { minDeg: -185, maxDeg: 185 } } },
      },
      'C',
    ],
  ] as const)(
    '%s: every word stays in the range, and where it has to be turned back the tool is at park height',
    async (_, machine, letter) => {
      const { plan, setup, findings, proof } = await planJob(around(machine));
      expect(findings.filter((f) => f.severity === 'spoils')).toEqual([]);
      expect(proof.readBack.maxTipUm).toBeLessThan(1.5);
      const k = 'XYZABC'.indexOf(letter);
      const { motions } = readNc(textOf(plan));
      for (const m of motions) expect(Math.abs(m.end[k]!)).toBeLessThanOrEqual(185.0001);
      // The same without limits goes on past them, and needs no turning back.
      const { layout } = machine;
      const endless =
        layout.kind === 'rotary'
          ? { ...machine, layout: { ...layout, rotary: { ...layout.rotary, range: null } } }
          : layout.kind === 'table-table'
            ? { ...machine, layout: { ...layout, turn: { ...layout.turn, range: null } } }
            : machine;
      const free = await planJob(around(endless as Machine));
      const reach = Math.max(...readNc(textOf(free.plan)).motions.map((m) => Math.abs(m.end[k]!)));
      const rewinds = plan.laid.nearOf?.size ?? 0;
      // Where the first stroke is begun a whole turn back nothing has to be turned back later.
      expect(reach).toBeGreaterThan(185);
      expect(rewinds + Number(readNc(textOf(plan)).motions.some((m) => m.end[k]! < -5))).toBeGreaterThan(0);
      for (const move of plan.laid.nearOf?.keys() ?? []) {
        if (move === 0) continue;
        expect(plan.laid.kind[move - 1]).toBe(MOVE.park);
        // Both ends of the way back stand at park height over the highest place.
        const { x, y, z } = { x: plan.laid.tip[3 * move]!, y: plan.laid.tip[3 * move + 1]!, z: plan.laid.tip[3 * move + 2]! };
        void x;
        if (layout.kind === 'rotary') expect(Math.hypot(y, z)).toBeCloseTo(setup.work.topMm + setup.job.motion.parkHeightMm, 6);
      }
    },
  );
});
