import { describe, expect, it } from 'vitest';
import { AXIS_COUNT, MotionRecorder } from './motions';

describe('MotionRecorder', () => {
  it('keeps every figure of every motion, however many come', () => {
    const recorder = new MotionRecorder();
    const n = 20_000;
    for (let i = 0; i < n; i++) {
      recorder.add(
        Float64Array.from({ length: AXIS_COUNT }, (_, k) => i + k / 10),
        {
          line: 2 * i,
          rapid: i % 3 === 0,
          timeMin: i / 7,
          tool: i % 9,
          length: i % 5,
          spindleRpm: i % 2 ? 1000 : -1000,
          coolant: i % 4,
          away: i % 3,
          probes: i % 2 === 1,
        },
      );
    }
    const m = recorder.finish();
    expect(m.count).toBe(n);
    for (const i of [0, 1, 255, 256, 1023, 4096, 9999, n - 1]) {
      expect([...m.end.subarray(AXIS_COUNT * i, AXIS_COUNT * i + 2)]).toEqual([i, i + 0.1]);
      expect([m.line[i], m.rapid[i], m.timeMin[i], m.tool[i], m.length[i], m.spindleRpm[i], m.coolant[i]]).toEqual([
        2 * i,
        i % 3 === 0 ? 1 : 0,
        i / 7,
        i % 9,
        i % 5,
        i % 2 ? 1000 : -1000,
        i % 4,
      ]);
    }
  });
});
