import { describe, expect, it } from 'vitest';
import { readDxf } from './dxf';
import { interpolate } from './spline';

const dxf = (entities: string, header = '9\n$INSUNITS\n70\n4\n', blocks = '') =>
  `0\nSECTION\n2\nHEADER\n${header}0\nENDSEC\n${blocks}0\nSECTION\n2\nENTITIES\n${entities}0\nENDSEC\n0\nEOF\n`;
const entity = (name: string, groups: (string | number)[]) => `0\n${name}\n8\n0\n${groups.join('\n')}\n`;
const FROM_BEHIND = [210, 0, 220, 0, 230, -1];
const read = (text: string) => {
  const made = readDxf(text, 1, 0.002);
  if (!made.ok) throw new Error(JSON.stringify(made.error));
  return made.value;
};
const points = (xy: readonly number[]) => xy.flatMap((x, i) => (i % 2 ? [] : [[x, xy[i + 1]!] as const]));
const middle = (xy: readonly number[]) => points(xy)[Math.floor(xy.length / 4)]!;

describe('entities drawn from behind', () => {
  it('circles and arcs are mirrored, as their plane says', () => {
    const { lines } = read(
      dxf(entity('CIRCLE', [10, 5, 20, 2, 40, 1, ...FROM_BEHIND]) + entity('ARC', [10, 5, 20, 2, 40, 1, 50, 0, 51, 90, ...FROM_BEHIND])),
    );
    expect(Math.min(...points(lines[0]!.xy).map(([x]) => x))).toBeCloseTo(-6, 2);
    const [x, y] = middle(lines[1]!.xy);
    // The quarter from 0° to 90° about (5, 2) comes to lie about (−5, 2), at its upper left.
    expect(x).toBeLessThan(-5);
    expect(y).toBeGreaterThan(2);
  });
  it('lines and ellipses are not: their places are the drawing’s own; an arc of an ellipse runs the other way', () => {
    const { lines } = read(
      dxf(
        entity('LINE', [10, 1, 20, 0, 11, 3, 21, 0, ...FROM_BEHIND]) +
          entity('ELLIPSE', [10, 5, 20, 0, 11, 2, 21, 0, 40, 0.5, 41, 0, 42, Math.PI / 2, ...FROM_BEHIND]),
      ),
    );
    expect(lines[0]!.xy).toEqual([1, 0, 3, 0]);
    const [x, y] = middle(lines[1]!.xy);
    expect(x).toBeGreaterThan(5);
    expect(y).toBeLessThan(0);
  });
  it('an insert is mirrored with all that is in it', () => {
    const blocks = `0\nSECTION\n2\nBLOCKS\n0\nBLOCK\n8\n0\n2\nB\n70\n0\n10\n0\n20\n0\n3\nB\n1\n\n${entity('LINE', [10, 0, 20, 0, 11, 1, 21, 2])}0\nENDBLK\n8\n0\n0\nENDSEC\n`;
    const { lines } = read(dxf(entity('INSERT', [2, 'B', 10, 10, 20, 0, ...FROM_BEHIND]), undefined, blocks));
    lines[0]!.xy.forEach((v, i) => expect(v).toBeCloseTo([-10, 0, -11, 2][i]!, 9));
  });
  it('a tilted plane is projected, and said', () => {
    const { lines, notes } = read(dxf(entity('CIRCLE', [10, 0, 20, 0, 40, 2, 210, 0, 220, -0.6, 230, 0.8])));
    expect(Math.max(...points(lines[0]!.xy).map(([, y]) => y))).toBeCloseTo(1.6, 2);
    expect(Math.max(...points(lines[0]!.xy).map(([x]) => x))).toBeCloseTo(2, 2);
    expect(notes.join()).toContain('tilted plane');
  });
});

describe('splines', () => {
  const clamped = (degree: number, poles: number[][], weights: number[] = []) => [
    ...[70, weights.length ? 12 : 8, 71, degree],
    ...[
      ...Array(degree + 1).fill(0),
      ...Array.from({ length: poles.length - degree - 1 }, (_, i) => i + 1),
      ...Array(degree + 1).fill(poles.length - degree),
    ].flatMap((k) => [40, k as number]),
    ...weights.flatMap((w) => [41, w]),
    ...poles.flatMap(([x, y]) => [10, x!, 20, y!]),
  ];
  it('with weights follow them: a quarter of a circle to the tolerance', () => {
    // Piegl and Tiller, "The NURBS Book", section 7.3: a quarter circle is rational of degree 2 with weights 1, √½, 1 (from memory).
    const { lines, notes } = read(
      dxf(
        entity(
          'SPLINE',
          clamped(
            2,
            [
              [10, 0],
              [10, 10],
              [0, 10],
            ],
            [1, Math.SQRT1_2, 1],
          ),
        ),
      ),
    );
    for (const [x, y] of points(lines[0]!.xy)) expect(Math.abs(Math.hypot(x, y) - 10)).toBeLessThan(1e-9);
    const [p, q] = points(lines[0]!.xy) as [readonly [number, number], readonly [number, number]];
    expect(10 - Math.hypot((p[0] + q[0]) / 2, (p[1] + q[1]) / 2)).toBeLessThan(0.003);
    expect(notes).toEqual([]);
  });
  it('bent like an S within one span keep to the tolerance', () => {
    const poles = [
      [0, 0],
      [10, 30],
      [20, -30],
      [30, 0],
    ];
    const { lines } = read(dxf(entity('SPLINE', clamped(3, poles))));
    const bezier = (t: number) =>
      [0, 1].map((c) => poles.reduce((sum, p, i) => sum + p[c]! * [1, 3, 3, 1][i]! * t ** i * (1 - t) ** (3 - i), 0));
    const own = points(lines[0]!.xy);
    let worst = 0;
    for (let k = 0; k <= 2000; k++) {
      const [x, y] = bezier(k / 2000) as [number, number];
      let best = Infinity;
      for (let i = 0; i + 1 < own.length; i++) {
        const [[ax, ay], [bx, by]] = [own[i]!, own[i + 1]!];
        const t = Math.min(1, Math.max(0, ((x - ax) * (bx - ax) + (y - ay) * (by - ay)) / ((bx - ax) ** 2 + (by - ay) ** 2)));
        best = Math.min(best, Math.hypot(x - ax - t * (bx - ax), y - ay - t * (by - ay)));
      }
      worst = Math.max(worst, best);
    }
    expect(worst).toBeLessThan(0.0025);
  });
  it('given by fit points alone run smoothly through them, and it is said', () => {
    const fit = Array.from({ length: 9 }, (_, k) => [10 * Math.cos((k * Math.PI) / 8), 10 * Math.sin((k * Math.PI) / 8)]);
    const groups = [70, 8, 71, 3, 12, 0, 22, 1, 13, 0, 23, -1, ...fit.flatMap(([x, y]) => [11, x!, 21, y!])];
    const { lines, notes } = read(dxf(entity('SPLINE', groups)));
    for (const [x, y] of points(lines[0]!.xy)) expect(Math.abs(Math.hypot(x, y) - 10)).toBeLessThan(0.02);
    expect(lines[0]!.xy.length).toBeGreaterThan(60);
    expect(notes.join()).toContain('pass through');
  });
  it('through places on a line are that line', () => {
    for (const b of interpolate(
      [
        [0, 0],
        [1, 1],
        [5, 5],
      ],
      null,
      null,
    )) {
      for (let i = 0; i < 8; i += 2) expect(b[i]).toBeCloseTo(b[i + 1]!, 9);
    }
  });
  it('a splined polyline leaves out the frame it was made from', () => {
    const vertex = (x: number, y: number, flags: number) => entity('VERTEX', [10, x, 20, y, 70, flags]);
    const text =
      entity('POLYLINE', [66, 1, 70, 4]) +
      vertex(0, 0, 16) +
      vertex(5, 50, 16) +
      vertex(0, 0, 8) +
      vertex(3, 4, 8) +
      vertex(9, 0, 8) +
      '0\nSEQEND\n8\n0\n';
    const { lines } = read(dxf(text));
    expect(lines[0]!.xy).toEqual([0, 0, 3, 4, 9, 0]);
  });
});

describe('what is left out, and units', () => {
  it.each(['HATCH', 'REGION', 'LEADER', 'MLINE', 'IMAGE', 'XLINE', 'RAY', 'WIPEOUT', 'VIEWPORT', 'ANY_OTHER'])('%s is named', (name) => {
    const { notes } = read(dxf(entity(name, [10, 1, 20, 1]) + entity('LINE', [10, 0, 20, 0, 11, 1, 21, 1]) + entity(name, [10, 1, 20, 1])));
    expect(notes).toEqual([`2 ${name} entities were left out`]);
  });
  it.each([
    [3, 1609344],
    [7, 1e6],
    [15, 1e4],
    [21, 304.8006096],
  ])('$INSUNITS %d is %d mm', (unit, mm) => {
    const { lines, notes } = read(dxf(entity('LINE', [10, 0, 20, 0, 11, 1, 21, 0]), `9\n$INSUNITS\n70\n${unit}\n`));
    expect(lines[0]!.xy[2]! / mm).toBeCloseTo(1, 9);
    expect(notes).toEqual([]);
  });
  it('a unit that is not known is named with its number', () => {
    expect(read(dxf(entity('LINE', [10, 0, 20, 0, 11, 1, 21, 0]), '9\n$INSUNITS\n70\n19\n')).notes[0]).toContain('$INSUNITS 19');
  });
});
