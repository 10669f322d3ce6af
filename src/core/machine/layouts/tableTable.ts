import { wrapToTurn } from '../../base/angle';
import { getMount } from '../../job/blankText';
import type { LayoutOf, Machine } from '../../job/machineSchema';
import { describeAcross, describeAlong, describeTurnZero } from '../../job/zero';
import { linearAxis, turningAxis, type Kinematics } from '../kinematics';
import type { Held, MachineLayout, Mount } from './layout';

type TableTable = LayoutOf<'table-table'>;

const DEG = 180 / Math.PI;
/**
 * A tool that leans by less is upright, radians: below what four digits of a degree say. Its tip stands where it is to all the same, and
 * the table need not turn by half a turn within a few nanometres of way.
 */
const ON_POLE = 2e-6;
/** Slack at the ends of the tilt, radians: a surface at the end is not refused for its last digit. */
const END_SLACK = 1e-9;

/** Three linear axes under a tool that stands upright, over a table that turns about its own axis and tilts with it about X or Y. */
export const tableTable: MachineLayout<TableTable> = {
  name: 'table that tilts and turns',
  stance: ({ tilt, wrappedAxis, turnAsideMm }, held, { leadDeg, mostTiltDeg }) => {
    // Either side of the tilt reaches every direction, since the table turns half round for the other.
    const most = Math.min(Math.max(-tilt.minDeg, tilt.maxDeg), mostTiltDeg ?? 360) / DEG;
    const turns = held.mount === 'rotary';
    return {
      turns,
      // A round blank stands on the table, its far end up: a radial tool needs a quarter turn of tilt, one along the axis none.
      tiltRad: turns ? [Math.PI / 2 - most, Math.PI / 2] : [0, most],
      leadRad: leadDeg / DEG,
      pivotMm: 0,
      centre: centreOf(held, createPlacing(tilt, held.mount, wrappedAxis)),
      asideMm: Math.abs(turnAsideMm),
      toolPoint: false,
    };
  },
  kinematics: createTableKinematics,
  along: ({ wrappedAxis }, mount) => (mount === 'rotary' ? 'Z' : wrappedAxis === 'Y' ? 'X' : 'Y'),
  turning: ({ turn }) => turn,
  zeroWords: (layout, blank, zero) => {
    const { turn, tilt } = layout;
    const still = [
      { letter: turn.letter, where: `at ${getMount(blank) === 'rotary' ? describeTurnZero(zero) : 'where the blank was set up'}` },
      { letter: tilt.letter, where: 'with the table level' },
    ];
    if (getMount(blank) === 'rotary')
      return [
        { letter: 'X', where: 'on the axis of the table' },
        { letter: 'Y', where: 'on the axis of the table' },
        { letter: 'Z', where: `at ${describeAlong(blank, zero)}, the table level` },
        ...still,
      ];
    const along = layout.wrappedAxis === 'Y' ? 'X' : 'Y';
    return [
      { letter: along, where: `at ${describeAlong(blank, zero)}` },
      { letter: along === 'X' ? 'Y' : 'X', where: `at ${describeAcross(blank, zero) ?? 'the middle of the lettered face'}` },
      { letter: 'Z', where: `on the ${blank.zero}` },
      ...still,
    ];
  },
  describe: ({ tilt, turn, turnAsideMm }, mount, length) => [
    `table tilts on ${tilt.letter} about ${tilt.letter === 'A' ? 'X' : 'Y'}, sense ${tilt.sense > 0 ? '+' : '-'}, and turns on ${turn.letter}, sense ${turn.sense > 0 ? '+' : '-'}`,
    ...(turnAsideMm === 0
      ? []
      : [`its turning axis stands ${length(turnAsideMm)} along ${tilt.letter === 'A' ? 'Y' : 'X'} from the tilting one`]),
    ...(mount === 'rotary' ? ['the blank stands on the table, datum end down'] : []),
  ],
};

/** How far the table tilts right-handed about its axis: its limits are those of its words. */
const getTiltReach = ({ sense, minDeg, maxDeg }: TableTable['tilt']): { minDeg: number; maxDeg: number } =>
  sense > 0 ? { minDeg, maxDeg } : { minDeg: -maxDeg, maxDeg: -minDeg };

/** A rigid turn from the blank frame to the table's, which is the machine's while nothing is turned: rows of a matrix. */
export type Placing = readonly [readonly number[], readonly number[], readonly number[]];

/**
 * How a blank stands on the table. A round one stands upright, and turn 0 faces the side that the tilt brings up farther; one that lies has
 * its x along X, or along Y with its own y towards −X.
 */
function createPlacing(tilt: TableTable['tilt'], mount: Mount, wrappedAxis: 'X' | 'Y'): Placing {
  if (mount === 'rotary') {
    const reach = getTiltReach(tilt);
    const side = reach.maxDeg >= -reach.minDeg ? 1 : -1;
    // Rows are X, Y and Z of the blank's x, y, z.
    return tilt.letter === 'A'
      ? [
          [0, side, 0],
          [0, 0, side],
          [1, 0, 0],
        ]
      : [
          [0, 0, -side],
          [0, side, 0],
          [1, 0, 0],
        ];
  }
  return wrappedAxis === 'Y'
    ? [
        [1, 0, 0],
        [0, 1, 0],
        [0, 0, 1],
      ]
    : [
        [0, -1, 0],
        [1, 0, 0],
        [0, 0, 1],
      ];
}

/** Where the axes meet, or the turn's is as high as the tilt's, in the blank frame; its zero where nothing was measured. */
function centreOf({ zeroMm, centreMm, mount }: Held, placing: Placing): [number, number, number] {
  const c = wordsOfCentre(mount, centreMm);
  const zero = mount === 'rotary' ? [zeroMm[0], 0, 0] : zeroMm;
  return [0, 1, 2].map((j) => zero[j]! + placing[0][j]! * c[0] + placing[1][j]! * c[1] + placing[2][j]! * c[2]) as [number, number, number];
}

/** A round blank stands on the table's axis. */
const wordsOfCentre = (mount: Mount, c: Held['centreMm']): readonly [number, number, number] =>
  c === null ? [0, 0, 0] : mount === 'rotary' ? [0, 0, c[2]] : c;

/**
 * With u the tool axis in the table's frame, R(α)·R(γ)·u = z: γ brings u into the plane across the tilt's axis, α stands it up. Both
 * α and −α do, half a turn of the table apart; of those in the tilt's range the nearer is taken.
 * X, Y, Z = R(α)·(e + R(γ)·(p − q)) − e + c: q where the axes meet and c its words, or, where they pass each other, the place of the turn's
 * axis as high as the tilt's, which is e from that. Derived in docs/architecture.md, "Machines".
 */
function createTableKinematics(machine: Machine, layout: TableTable, held: Held): Kinematics {
  const { tilt, turn, turnAsideMm: e } = layout;
  const placing = createPlacing(tilt, held.mount, layout.wrappedAxis);
  const q = centreOf(held, placing);
  const c = wordsOfCentre(held.mount, held.centreMm);
  const isA = tilt.letter === 'A';
  const zeroTurn = turn.sense * (held.mount === 'rotary' ? held.turnDeg : 0);
  const reach = getTiltReach(tilt);
  const [least, most] = [reach.minDeg / DEG - END_SLACK, reach.maxDeg / DEG + END_SLACK];
  const [m0, m1, m2] = placing as [number[], number[], number[]];
  return {
    axes: [...['X', 'Y', 'Z'].map((letter) => linearAxis(machine, letter)), turningAxis(tilt, tilt), turningAxis(turn, turn.range)],
    inverse(tip, axis, near, out) {
      const ui = m0[0]! * axis[0]! + m0[1]! * axis[1]! + m0[2]! * axis[2]!,
        uj = m1[0]! * axis[0]! + m1[1]! * axis[1]! + m1[2]! * axis[2]!,
        uk = m2[0]! * axis[0]! + m2[1]! * axis[1]! + m2[2]! * axis[2]!;
      const nearTilt = (tilt.sense * near[3]!) / DEG,
        nearTurn = (turn.sense * (near[4]! + zeroTurn)) / DEG;
      const round = Math.hypot(ui, uj);
      const leans = Math.atan2(round, uk);
      // About X a positive tilt stands up what faces away from the machine, about Y a negative one what faces to the right.
      const first = isA ? leans : -leans;
      const firstTurn = isA ? Math.atan2(ui, uj) : Math.atan2(-uj, ui);
      let alpha = 0,
        gamma = nearTurn;
      if (round >= ON_POLE) {
        const one = nearTurn + wrapToTurn(firstTurn - nearTurn),
          other = nearTurn + wrapToTurn(firstTurn + Math.PI - nearTurn);
        const fits = first >= least && first <= most,
          otherFits = -first >= least && -first <= most;
        const far = Math.abs(first - nearTilt) + Math.abs(one - nearTurn),
          otherFar = Math.abs(-first - nearTilt) + Math.abs(other - nearTurn);
        const isFirst = fits !== otherFits ? fits : far <= otherFar;
        alpha = isFirst ? first : -first;
        gamma = isFirst ? one : other;
      }
      const [ct, st, cg, sg] = [Math.cos(alpha), Math.sin(alpha), Math.cos(gamma), Math.sin(gamma)];
      const px = tip[0]! - q[0],
        py = tip[1]! - q[1],
        pz = tip[2]! - q[2];
      const x = m0[0]! * px + m0[1]! * py + m0[2]! * pz,
        y = m1[0]! * px + m1[1]! * py + m1[2]! * pz,
        z = m2[0]! * px + m2[1]! * py + m2[2]! * pz;
      const tx = x * cg - y * sg,
        ty = x * sg + y * cg;
      if (isA) {
        out[0] = c[0] + tx;
        out[1] = c[1] + (ty + e) * ct - z * st - e;
        out[2] = c[2] + (ty + e) * st + z * ct;
      } else {
        out[0] = c[0] + (tx + e) * ct + z * st - e;
        out[1] = c[1] + ty;
        out[2] = c[2] - (tx + e) * st + z * ct;
      }
      out[3] = tilt.sense * alpha * DEG;
      out[4] = turn.sense * gamma * DEG - zeroTurn;
    },
    forward(values, tip, axis) {
      const alpha = (tilt.sense * values[3]!) / DEG,
        gamma = (turn.sense * (values[4]! + zeroTurn)) / DEG;
      const [ct, st, cg, sg] = [Math.cos(alpha), Math.sin(alpha), Math.cos(gamma), Math.sin(gamma)];
      const wx = values[0]! - c[0] + (isA ? 0 : e),
        wy = values[1]! - c[1] + (isA ? e : 0),
        wz = values[2]! - c[2];
      const tx = isA ? wx : wx * ct - wz * st - e,
        ty = isA ? wy * ct + wz * st - e : wy,
        tz = isA ? wz * ct - wy * st : wx * st + wz * ct;
      const x = tx * cg + ty * sg,
        y = ty * cg - tx * sg;
      // The tool stands along Z: turned back it is (0, st, ct) about X, (−st, 0, ct) about Y.
      const ax = isA ? 0 : -st,
        ay = isA ? st : 0;
      const ux = ax * cg + ay * sg,
        uy = ay * cg - ax * sg;
      for (let j = 0; j < 3; j++) {
        tip[j] = q[j]! + m0[j]! * x + m1[j]! * y + m2[j]! * tz;
        axis[j] = m0[j]! * ux + m1[j]! * uy + m2[j]! * ct;
      }
    },
  };
}
