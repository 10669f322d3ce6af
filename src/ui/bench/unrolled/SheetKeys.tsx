import type { PlanView } from '../../../workers/planning.client';
import { formatLength } from '../../common/format';
import { useBench, useJobPart, useView } from '../../state/benchStore';
import { LEFT_COLOUR, OUTSIDE_COLOUR } from './sheetRelief';
import { colourOfDepth } from '../passPaths';

const GRIDS: readonly [string, number, number][] = [
  ['no grid', 0, 0],
  ['1 mm', 1, 0],
  ['5 mm', 5, 0],
  ['1 mm, 5°', 1, 5],
  ['1 mm, 15°', 1, 15],
];

/** The grid that dragging snaps to. */
export function GridChoice() {
  const bench = useBench();
  const gridMm = useView((v) => v.gridMm);
  const gridDeg = useView((v) => v.gridDeg);
  const at = GRIDS.findIndex(([, mm, deg]) => mm === gridMm && deg === gridDeg);
  return (
    <select
      aria-label="Grid that dragging snaps to"
      value={at}
      onChange={(e) => {
        const [, mm, deg] = GRIDS[Number(e.target.value)]!;
        bench.view.setState({ gridMm: mm, gridDeg: deg });
      }}
    >
      {GRIDS.map(([name], k) => (
        <option key={name} value={k}>
          {name}
        </option>
      ))}
    </select>
  );
}

/** What the colours of the comparison stand for. */
export function DifferenceKey() {
  return (
    <div className="colours">
      <span className="patch" style={{ background: LEFT_COLOUR }} /> left
      <span className="patch" style={{ background: OUTSIDE_COLOUR }} /> too deep, or outside
    </div>
  );
}

/** Which colour stands for which depth. */
export function DepthKey({ plan }: { plan: PlanView }) {
  const units = useJobPart((j) => j.units);
  const deepest = Math.max(0, ...plan.cuts.map((c) => c.maxDepthMm));
  const stops = Array.from({ length: 8 }, (_, k) => colourOfDepth(k / 7));
  return (
    <div className="colours">
      0<span style={{ background: `linear-gradient(to right, ${stops.join(',')})` }} />
      {formatLength(deepest, units)} {units} deep
    </div>
  );
}
