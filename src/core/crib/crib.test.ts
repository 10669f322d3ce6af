import { describe, expect, it } from 'vitest';
import { toolSchema } from '../job/schema';
import { DEFAULT_MACHINE } from '../job/defaults';
import { readCrib, toCsv, toJson } from './exchange';
import { chooseCuttingData, getWorkingDiameterMm, roundDown, toChipMm, toFeedMmPerMin, toRpm, toSurfaceMPerMin } from './speeds';
import { createTool, STARTER_TOOLS } from './starterTools';

describe('the starter crib', () => {
  it('holds twenty cutters or more of every kind, each sound, in mm and inches, with numbers of their own', () => {
    expect(STARTER_TOOLS.length).toBeGreaterThanOrEqual(20);
    for (const tool of STARTER_TOOLS) expect(toolSchema.parse(tool)).toEqual(tool);
    expect(new Set(STARTER_TOOLS.map((t) => t.number)).size).toBe(STARTER_TOOLS.length);
    expect(new Set(STARTER_TOOLS.map((t) => t.kind)).size).toBe(10);
    expect(STARTER_TOOLS.some((t) => Math.abs(t.diameterMm - 25.4 / 8) < 1e-9)).toBe(true);
  });
});

describe('speeds', () => {
  // Worked from v = π·D·n/1000 and F = f_z·z·n, as in any machining handbook.
  it.each([
    [10, 3820, 120],
    [25, 1528, 120],
    [6, 10610, 200],
  ])('Ø %d at %d rev/min is %d m/min', (d, n, v) => {
    expect(toSurfaceMPerMin(d, n)).toBeCloseTo(v, 0);
    expect(toRpm(d, v)).toBeCloseTo(n, -1);
  });

  // Worked by N = 12·V/(π·D), V in feet a minute and D in inches, as Machinery's Handbook has it (from memory): 1/2 in at 300 ft/min, …
  it.each([
    [0.5, 300, 2292],
    [0.25, 100, 1528],
    [2, 320, 611],
  ])('%d in at %d ft/min turn at %d rev/min', (inches, feet, rpm) => {
    expect(toRpm(inches * 25.4, feet * 0.3048)).toBeCloseTo(rpm, 0);
  });

  it('chip and feed undo each other', () => {
    expect(toFeedMmPerMin(0.05, 3820, 4)).toBeCloseTo(764, 6);
    expect(toChipMm(764, 3820, 4)).toBeCloseTo(0.05, 9);
  });

  it('a ball works at D = 2·√(2·b·d − d²), a V at its width there', () => {
    const ball = createTool('b', 1, 'b', 'ball', { diameterMm: 6, fluteLengthMm: 10 });
    expect(getWorkingDiameterMm(ball, 0.5)).toBeCloseTo(2 * Math.sqrt(6 * 0.5 - 0.25), 9);
    const v = createTool('v', 1, 'v', 'v', { includedDeg: 90, tipMm: 0.2, diameterMm: 6, fluteLengthMm: 3 });
    expect(getWorkingDiameterMm(v, 1)).toBeCloseTo(2.2, 9);
    expect(getWorkingDiameterMm(v, 9)).toBe(6);
  });

  it('come from the crib where it has them, with the feed taken down as far as the spindle is', () => {
    const v60 = STARTER_TOOLS[0]!;
    expect(chooseCuttingData(v60, 'brass', DEFAULT_MACHINE)).toMatchObject({ spindleRpm: 18000, feedMmPerMin: 500, from: 'crib' });
    const slow = { ...DEFAULT_MACHINE, maxSpindleRpm: 9000 };
    expect(chooseCuttingData(v60, 'brass', slow)).toMatchObject({ spindleRpm: 9000, feedMmPerMin: 250 });
  });

  it('by rule they keep within the machine, in figures of two digits', () => {
    for (const tool of STARTER_TOOLS) {
      const d = chooseCuttingData({ ...tool, cuttingData: [] }, 'steel', DEFAULT_MACHINE);
      expect(d.from).toBe('rules');
      expect(d.spindleRpm).toBeLessThanOrEqual(DEFAULT_MACHINE.maxSpindleRpm);
      expect(d.feedMmPerMin).toBeLessThanOrEqual(DEFAULT_MACHINE.maxFeedMmPerMin);
      for (const value of [d.spindleRpm, d.feedMmPerMin, d.plungeMmPerMin]) expect(roundDown(value)).toBeCloseTo(value, 6);
    }
  });
});

describe('a crib as a file', () => {
  it('comes back as it was from JSON, and from a table but for its speeds', () => {
    expect(readCrib(toJson(STARTER_TOOLS))).toEqual({ tools: [...STARTER_TOOLS], refused: [] });
    const plain = STARTER_TOOLS.map((t) => ({ ...t, cuttingData: [] }));
    expect(readCrib(toCsv(STARTER_TOOLS))).toEqual({ tools: plain, refused: [] });
  });

  it('says which cutter is wrong and what of it, and takes the others', () => {
    const [a, b] = STARTER_TOOLS;
    const { tools, refused } = readCrib(toJson([a!, { ...b!, diameterMm: -1 }, a!]));
    expect(tools).toEqual([a]);
    expect(refused).toEqual([
      expect.stringMatching(/^cutter 2: diameterMm must be/),
      expect.stringMatching(/^cutter 3: id v60 stands twice/),
    ]);
    expect(readCrib('[{').refused[0]).toMatch(/no JSON/);
    expect(readCrib('').refused[0]).toMatch(/holds no cutter/);
    expect(readCrib('name,diameterMm\nMill,abc').refused[0]).toMatch(/^cutter 1: /);
  });
});
