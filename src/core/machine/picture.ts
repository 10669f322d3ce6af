import type { Machine } from '../job/machineSchema';
import { getHead, getRotary, getTable } from './layouts/edit';
import { getLayout } from './layouts/registry';

/** A point on the machine, mm: X to the right, Y away, Z up, as who stands before it sees them. */
export type MachinePoint = readonly [x: number, y: number, z: number];

/** What a picture of a machine shows, in machine coordinates, as its kinematics put it there. */
export interface MachineScene {
  /** Faces of the blank with how they face, unit. */
  faces: { points: MachinePoint[]; normal: MachinePoint; of: 'blank' | 'table' }[];
  /** Strokes of the letter on it, each piece with the normal of the surface there. */
  letter: { from: MachinePoint; to: MachinePoint; normal: MachinePoint }[];
  /** Tip of the tool, and a place up its axis. */
  tool: [tip: MachinePoint, up: MachinePoint];
  /** The ways that places of blank and table go as words of turning axes grow. */
  turns: { letter: string; points: MachinePoint[] }[];
  /** Where a point of the blank stands. */
  place(p: readonly number[]): MachinePoint;
}

/** The blank that is shown: a round one, or a plate where nothing turns, mm. */
export const SHOWN = { radiusMm: 22, lengthMm: 90, plateMm: [90, 60, 8], tableMm: 42, tableThickMm: 7, underMm: 25 } as const;
const FACETS = 40;
/** A letter that is seen to be mirrored if it is, in mm along and across from its middle. */
const LETTER: readonly (readonly [number, number])[][] = [
  [
    [-6, -9],
    [-6, 9],
    [7, 9],
  ],
  [
    [-6, 1],
    [4, 1],
  ],
];
/** Longest piece of the letter that is drawn straight, mm. */
const PIECE_MM = 1.5;
/** The arrow of the turn begins and ends there, and is drawn in so many pieces; how far out from the blank, mm. */
const [TURN_FROM_DEG, TURN_TO_DEG, TURN_PIECES, TURN_OUT_MM] = [8, 70, 12, 7];
/** The arrow of a tilt ends there at the most, and is drawn if it gets beyond the other. */
const [TILT_TO_DEG, TILT_FROM_DEG] = [40, 14];
const TOOL_MM = 45;

/**
 * The machine with its axes at the words given, by the kinematics that write programs, so that what the picture shows a word to do is what
 * a program makes it do. @param words By letter, mm and degrees; 0 for those left out.
 * @param lies Whether the blank lies still though the machine could turn one.
 */
export function createMachineScene(machine: Machine, words: Readonly<Record<string, number>>, lies = false): MachineScene {
  const { layout } = machine;
  const rotary = lies ? null : getRotary(layout);
  const table = lies ? null : getTable(layout);
  const turns = rotary !== null || table !== null;
  const mount = turns ? 'rotary' : 'table';
  const centreMm = table ? ([0, 0, -SHOWN.underMm] as const) : null;
  const kinematics = getLayout(layout).kinematics(machine, layout, { mount, zeroMm: [0, 0, 0], turnDeg: 0, centreMm });
  const { axes } = kinematics;
  const head = getHead(layout);
  const out = new Float64Array(axes.length);
  const tip = new Float64Array(3),
    axis = new Float64Array(3);
  /** Where a point of the blank stands on the machine: where an upright tool would have to go to touch it. */
  const place = (p: readonly number[], own: Readonly<Record<string, number>> = words): MachinePoint => {
    const near = axes.map((a) => (a.kind === 'linear' || a.letter === head?.letter ? 0 : (own[a.letter] ?? 0)));
    kinematics.forward(near, tip, axis);
    kinematics.inverse(Float64Array.from(p), axis, near, out);
    return [out[0]!, out[1]!, out[2]!];
  };
  const origin = place([0, 0, 0]);
  const direct = (n: readonly number[]): MachinePoint => {
    const at = place(n);
    return [at[0] - origin[0], at[1] - origin[1], at[2] - origin[2]];
  };
  const blank = turns ? listRound() : listPlate();
  const way = (letter: string, p: readonly number[], toDeg = TURN_TO_DEG) => ({
    letter,
    points: Array.from({ length: TURN_PIECES + 1 }, (_, k) => {
      const turned = (words[letter] ?? 0) + TURN_FROM_DEG + (k / TURN_PIECES) * (toDeg - TURN_FROM_DEG);
      return place(p, { ...words, [letter]: turned });
    }),
  });
  const outside = blank.wrap(0, SHOWN.radiusMm + TURN_OUT_MM).slice(1) as [number, number];
  const rim = SHOWN.tableMm + TURN_OUT_MM;
  const tiltTo = table ? Math.min(TILT_TO_DEG, table.tilt.maxDeg - (words[table.tilt.letter] ?? 0)) : 0;
  kinematics.forward(
    axes.map((a) => words[a.letter] ?? 0),
    tip,
    axis,
  );
  const [tool, up] = [[...tip], [0, 1, 2].map((k) => tip[k]! + TOOL_MM * axis[k]!)];
  const upOnMachine = axes.map((a) => words[a.letter] ?? 0);
  return {
    place: (p) => place(p),
    faces: [
      ...(table ? listTable().map((f) => ({ ...f, of: 'table' as const })) : []),
      ...blank.faces.map((f) => ({ ...f, of: 'blank' as const })),
    ].map(({ points, normal, of }) => ({ points: points.map((p) => place(p)), normal: direct(normal), of })),
    letter: listLetter(blank.middle, blank.wrap).map(({ from, to, normal }) => ({
      from: place(from),
      to: place(to),
      normal: direct(normal),
    })),
    // Over a table that tilts the tool stands upright, whatever the blank does.
    tool: table
      ? [
          [upOnMachine[0]!, upOnMachine[1]!, upOnMachine[2]!],
          [upOnMachine[0]!, upOnMachine[1]!, upOnMachine[2]! + TOOL_MM],
        ]
      : [place(tool), place(up)],
    turns: [
      ...(rotary ? [way(rotary.letter, [0.12 * SHOWN.lengthMm, ...outside])] : []),
      ...(table ? [way(table.turn.letter, [SHOWN.lengthMm, ...outside])] : []),
      ...(table && tiltTo > TILT_FROM_DEG ? [way(table.tilt.letter, findRim(place, rim, table.tilt.letter), tiltTo)] : []),
    ],
  };
}

/** The place of the table's rim that its tilt moves most and that is in sight: towards who stands before it, or to the right. */
function findRim(
  place: (p: readonly number[], own: Readonly<Record<string, number>>) => MachinePoint,
  rimMm: number,
  tilt: 'A' | 'B',
): number[] {
  const rim = Array.from({ length: FACETS }, (_, k) => {
    const p = [0, rimMm * Math.sin((2 * Math.PI * k) / FACETS), rimMm * Math.cos((2 * Math.PI * k) / FACETS)];
    const [x, y] = place(p, {});
    return { p, out: tilt === 'A' ? -y : x };
  });
  return rim.reduce((best, r) => (r.out > best.out ? r : best)).p;
}

/** The table that a round blank stands on. */
function listTable(): Shown['faces'] {
  const { tableMm: r, tableThickMm: h } = SHOWN;
  const rim = (x: number): Local[] =>
    Array.from({ length: FACETS }, (_, k) => [x, r * Math.sin((2 * Math.PI * k) / FACETS), r * Math.cos((2 * Math.PI * k) / FACETS)]);
  const [low, top] = [rim(-h), rim(0)];
  return [
    ...low.map((p, k) => {
      const j = (k + 1) % FACETS;
      const mid = ((k + 0.5) * 2 * Math.PI) / FACETS;
      return { points: [p, top[k]!, top[j]!, low[j]!], normal: [0, Math.sin(mid), Math.cos(mid)] };
    }),
    { points: low, normal: [-1, 0, 0] },
    { points: top, normal: [1, 0, 0] },
  ];
}

type Local = number[];
interface Shown {
  faces: { points: Local[]; normal: Local }[];
  /** Place of the letter's middle along. */
  middle: number;
  /** Point of the surface, or so far from the axis, at a way across from the top; x is left 0. */
  wrap(acrossMm: number, radiusMm?: number): Local;
}

function listRound(): Shown {
  const { radiusMm: r, lengthMm: l } = SHOWN;
  const angleOf = (k: number): number => (2 * Math.PI * k) / FACETS;
  const rim = (x: number): Local[] => Array.from({ length: FACETS }, (_, k) => [x, r * Math.sin(angleOf(k)), r * Math.cos(angleOf(k))]);
  const sides = Array.from({ length: FACETS }, (_, k) => {
    const [near, far] = [rim(0), rim(l)];
    const j = (k + 1) % FACETS;
    return { points: [near[k]!, far[k]!, far[j]!, near[j]!], normal: [0, Math.sin(angleOf(k + 0.5)), Math.cos(angleOf(k + 0.5))] };
  });
  return {
    faces: [...sides, { points: rim(0), normal: [-1, 0, 0] }, { points: rim(l), normal: [1, 0, 0] }],
    middle: 0.58 * l,
    wrap: (across, radius = r) => [0, radius * Math.sin(across / r), radius * Math.cos(across / r)],
  };
}

function listPlate(): Shown {
  const [l, w, h] = SHOWN.plateMm;
  const corners = (z: number): Local[] => [
    [0, -w / 2, z],
    [l, -w / 2, z],
    [l, w / 2, z],
    [0, w / 2, z],
  ];
  const [top, bottom] = [corners(0), corners(-h)];
  const sides = [0, 1, 2, 3].map((k) => {
    const j = (k + 1) % 4;
    const normals = [
      [0, -1, 0],
      [1, 0, 0],
      [0, 1, 0],
      [-1, 0, 0],
    ];
    return { points: [bottom[k]!, bottom[j]!, top[j]!, top[k]!], normal: normals[k]! };
  });
  return { faces: [...sides, { points: top, normal: [0, 0, 1] }], middle: 0.5 * l, wrap: (across) => [0, across, 0] };
}

/** The letter in pieces on the surface. */
function listLetter(middle: number, wrap: Shown['wrap']): { from: Local; to: Local; normal: Local }[] {
  const put = ([along, across]: readonly [number, number]): Local => {
    const [, y, z] = wrap(across);
    return [middle + along, y!, z!];
  };
  return LETTER.flatMap((stroke) =>
    stroke.slice(1).flatMap((to, i) => {
      const from = stroke[i]!;
      const pieces = Math.ceil(Math.hypot(to[0] - from[0], to[1] - from[1]) / PIECE_MM);
      const on = (t: number): readonly [number, number] => [from[0] + t * (to[0] - from[0]), from[1] + t * (to[1] - from[1])];
      return Array.from({ length: pieces }, (_, k) => {
        const [a, b] = [put(on(k / pieces)), put(on((k + 1) / pieces))];
        const [, y, z] = wrap(on((k + 0.5) / pieces)[1]);
        const out = Math.hypot(y!, z!) > 1 && z !== 0 ? [0, y! / Math.hypot(y!, z!), z! / Math.hypot(y!, z!)] : [0, 0, 1];
        return { from: a, to: b, normal: out };
      });
    }),
  );
}
