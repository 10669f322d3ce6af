import type { Blank } from '../job/blankSchema';
import { getMount } from '../job/blankText';
import type { Machine } from '../job/machineSchema';
import type { Zero } from '../job/zero';
import { getHead, getRotary, getTable } from './layouts/edit';
import { createMachineScene, SHOWN, type MachinePoint } from './picture';

/** One shape of a drawing, in order from the back to the front. */
export type Shape =
  | { kind: 'area'; points: [number, number][]; fill: string; edge: string }
  | { kind: 'line'; points: [number, number][]; stroke: string; width: number; round: boolean }
  | { kind: 'text'; at: [number, number]; text: string; fill: string; size: number; bold: boolean };

/** Size of the drawing. */
export const DRAWING = { width: 330, height: 250 } as const;
/** Whoever stands before the machine, a little to the right of its middle and above it. */
const [ROUND, ABOVE] = [(24 * Math.PI) / 180, (33 * Math.PI) / 180];
const VIEW: MachinePoint = [Math.sin(ROUND) * Math.cos(ABOVE), -Math.cos(ROUND) * Math.cos(ABOVE), Math.sin(ABOVE)];
const LIGHT: MachinePoint = [-0.35, -0.45, 0.82];
const SCALE = 1.55;
/** A table with a blank standing on it takes more room. */
const TABLE_SCALE = 1.1;
const BED_MM = 62;
const TRIAD_MM = 26;
/** Length and half the width of an arrow's head, in the drawing. */
const ARROW = [9, 4] as const;
/** Colours of blank and table, in shade and in light. */
const COLOURS = {
  blank: [
    [158, 132, 70],
    [221, 208, 170],
  ],
  table: [
    [112, 121, 128],
    [204, 209, 213],
  ],
} as const;
const SENSE = '#8a5a00';
const ZERO = '#a3341f';

const dot = (a: MachinePoint, b: MachinePoint): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
const lerp = (a: MachinePoint, b: MachinePoint, t: number): MachinePoint => [
  a[0] + t * (b[0] - a[0]),
  a[1] + t * (b[1] - a[1]),
  a[2] + t * (b[2] - a[2]),
];
/** How near a face is to who looks: those farther off are drawn first. */
const nearness = (points: readonly MachinePoint[]): number => points.reduce((sum, p) => sum + dot(p, VIEW), 0) / points.length;

/** Words at which the tool stands over the blank that is shown. @param lies Whether it lies still though the machine could turn one. */
export function getRestWords({ layout }: Pick<Machine, 'layout'>, lies = false): Record<string, number> {
  if (getTable(layout) && !lies) return { Z: SHOWN.lengthMm + 14 };
  const Z = getRotary(layout) && !lies ? SHOWN.radiusMm + 14 : 14;
  return { [layout.wrappedAxis === 'Y' ? 'X' : 'Y']: 0.58 * SHOWN.lengthMm, Z };
}

/** Letters of its axes. */
export function listLetters({ layout }: Pick<Machine, 'layout'>): string[] {
  const table = getTable(layout);
  const turning = table ? [table.tilt.letter, table.turn.letter] : [getRotary(layout)?.letter, getHead(layout)?.letter];
  return ['X', 'Y', 'Z', ...turning.filter((l) => l !== undefined)];
}

/**
 * A machine with a blank on it, drawn by the kinematics that write its programs: senses as arrows, the directions of X, Y and Z, and on
 * request where its words are 0. @param words As they stand, mm and degrees.
 */
export function drawMachine(
  machine: Machine,
  words: Readonly<Record<string, number>>,
  zero: { zero: Zero; blank: Blank } | null = null,
): Shape[] {
  const { layout } = machine;
  const lies = zero !== null && getMount(zero.blank) === 'table';
  const table = lies ? null : getTable(layout);
  const rotary = lies ? null : getRotary(layout);
  const scene = createMachineScene(machine, words, lies);
  const half = SHOWN.lengthMm / 2;
  const middle: MachinePoint = table ? [0, 0, half] : layout.wrappedAxis === 'Y' ? [half, 0, 4] : [0, half, 4];
  const scale = table ? TABLE_SCALE : SCALE;
  const flat = (p: MachinePoint): [number, number] => {
    const [x, y, z] = [p[0] - middle[0], p[1] - middle[1], p[2] - middle[2]];
    const across = Math.cos(ROUND) * x + Math.sin(ROUND) * y;
    const up = Math.sin(ABOVE) * (-Math.sin(ROUND) * x + Math.cos(ROUND) * y) + Math.cos(ABOVE) * z;
    return [DRAWING.width / 2 + scale * across, DRAWING.height / 2 + 18 - scale * up];
  };
  const bedMm = table ? -SHOWN.underMm - 30 : rotary ? -SHOWN.radiusMm - 12 : -SHOWN.plateMm[2];
  const bed = [
    [-1, -1],
    [1, -1],
    [1, 1],
    [-1, 1],
  ].map(([x, y]): MachinePoint => [middle[0] + BED_MM * x!, middle[1] + BED_MM * y!, bedMm]);
  const out: Shape[] = [{ kind: 'area', points: bed.map(flat), fill: '#e6e2d8', edge: '#b9b3a4' }];
  const line = (points: readonly MachinePoint[], stroke: string, width: number, round = false): void =>
    void out.push({ kind: 'line', points: points.map(flat), stroke, width, round });
  const text = (at: [number, number], own: string, fill: string, size: number, bold = false): void =>
    void out.push({ kind: 'text', at, text: own, fill, size, bold });
  const faces = scene.faces.filter((f) => dot(f.normal, VIEW) > 0).sort((f, g) => nearness(f.points) - nearness(g.points));
  for (const { points, normal, of } of faces) {
    const colour = shade(normal, of);
    out.push({ kind: 'area', points: points.map(flat), fill: colour, edge: colour });
  }
  for (const { from, to, normal } of scene.letter) if (dot(normal, VIEW) > 0) line([from, to], '#3a2a12', 3, true);
  for (const { letter, points } of scene.turns) {
    line(points, SENSE, 2);
    const [before, end] = [flat(points[points.length - 2]!), flat(points[points.length - 1]!)];
    out.push(createHead(before, end));
    text([end[0] + 7, end[1] + 4], `${letter}+`, SENSE, 12, true);
  }
  const [tip, up] = scene.tool;
  line([tip, up], '#5b6770', 9);
  line([tip, lerp(tip, up, 0.28)], '#2c343a', 3);
  if (zero) {
    const at = flat(scene.place(findShownZero(zero.zero, zero.blank, rotary !== null || table !== null)));
    for (const [dx, dy] of [
      [8, 0],
      [0, 8],
    ] as const)
      out.push({
        kind: 'line',
        points: [
          [at[0] - dx, at[1] - dy],
          [at[0] + dx, at[1] + dy],
        ],
        stroke: ZERO,
        width: 2,
        round: false,
      });
    text([at[0] + 6, at[1] - 7], 'zero', ZERO, 12, true);
  }
  const corner: MachinePoint = [middle[0] - BED_MM, middle[1] - BED_MM, bedMm];
  (['X', 'Y', 'Z'] as const).forEach((letter, k) => {
    const end: MachinePoint = [corner[0], corner[1], corner[2]];
    const moved = end.map((v, j) => (j === k ? v + TRIAD_MM : v)) as unknown as MachinePoint;
    line([corner, moved], '#5b6770', 1.5);
    const [x, y] = flat(moved);
    text([x + (letter === 'Z' ? -3 : 3), y - 3], letter, '#3f484f', 11);
  });
  return out;
}

/** Where a job's words are 0, on the blank that is shown. */
function findShownZero({ along, across }: Zero, blank: Blank, isRound: boolean): [number, number, number] {
  const [length, width, thick] = isRound ? [SHOWN.lengthMm, 0, 0] : SHOWN.plateMm;
  const x = along === 'datum' ? 0 : along === 'middle' ? length / 2 : length;
  if (isRound) return [x, 0, blank.zero === 'surface' ? SHOWN.radiusMm : 0];
  return [x, across === 'low' ? -width / 2 : across === 'high' ? width / 2 : 0, blank.zero === 'table' ? -thick : 0];
}

function createHead(before: [number, number], end: [number, number]): Shape {
  const [dx, dy] = [end[0] - before[0], end[1] - before[1]];
  const l = Math.hypot(dx, dy) || 1;
  const [ux, uy] = [dx / l, dy / l];
  const foot = [end[0] - ARROW[0] * 0.3 * ux, end[1] - ARROW[0] * 0.3 * uy] as const;
  const points: [number, number][] = [
    [end[0] + ARROW[0] * 0.7 * ux, end[1] + ARROW[0] * 0.7 * uy],
    [foot[0] - ARROW[1] * uy, foot[1] + ARROW[1] * ux],
    [foot[0] + ARROW[1] * uy, foot[1] - ARROW[1] * ux],
  ];
  return { kind: 'area', points, fill: SENSE, edge: SENSE };
}

/** Brass, or the grey of a table, in light from above and the left. */
function shade(normal: MachinePoint, of: 'blank' | 'table'): string {
  const light = Math.min(1, Math.max(0, dot(normal, LIGHT)));
  const [dark, bright] = COLOURS[of];
  return `rgb(${dark.map((v, k) => Math.round(v + light * (bright[k]! - v))).join(',')})`;
}

/** The drawing as SVG, for a page. */
export function toMachineSvg(shapes: readonly Shape[]): string {
  const path = (points: readonly [number, number][]): string => points.map((p) => p.map((v) => v.toFixed(1)).join(',')).join(' ');
  const parts = shapes.map((s) => {
    if (s.kind === 'area') return `<polygon points="${path(s.points)}" fill="${s.fill}" stroke="${s.edge}" stroke-width="0.6"/>`;
    if (s.kind === 'line')
      return `<polyline points="${path(s.points)}" fill="none" stroke="${s.stroke}" stroke-width="${s.width}"${s.round ? ' stroke-linecap="round"' : ''}/>`;
    return `<text x="${s.at[0].toFixed(1)}" y="${s.at[1].toFixed(1)}" font-size="${s.size}" fill="${s.fill}"${s.bold ? ' font-weight="bold"' : ''}>${s.text}</text>`;
  });
  const { width, height } = DRAWING;
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}">${parts.join('')}</svg>`;
}
