'use client';

import { createSurface } from '../../../core/surface/registry';
import type { LetteringView } from '../../../workers/planning.client';
import { formatDeg, formatLength } from '../../common/format';
import { QuantityField } from '../../common/QuantityField';
import { useBench, useJob } from '../../state/benchStore';

/** How the sheet goes on to the blank, and where it meets itself. */
export function LayPanel({ lettering }: { lettering: LetteringView | null }) {
  const bench = useBench();
  const job = useJob();
  const { units } = job;
  const surface = createSurface(job.blank);
  const boxes = (lettering?.inscriptions ?? []).map((i) => i.box).filter((b) => b.minX <= b.maxX);
  const deg = (mm: number) => (mm / surface.mmPerRad) * (180 / Math.PI);
  const low = Math.min(...boxes.map((b) => b.minY));
  const high = Math.max(...boxes.map((b) => b.maxY));
  return (
    <>
      <h2>Lay: wrap</h2>
      <p>The sheet goes round the blank like a label. Lengths, angles and areas stay true; nothing is stretched.</p>
      {boxes.length > 0 && (
        <table className="figures"><tbody>
          <tr><td>Lettering from</td><td>{formatDeg(deg(low), 1)} to {formatDeg(deg(high), 1)}</td></tr>
          <tr><td>It spans</td><td>{formatDeg(deg(high - low), 1)} of 360°</td></tr>
          <tr><td>Free round the blank</td><td>{formatDeg(360 - deg(high - low), 1)} = {formatLength(surface.periodMm! - high + low, units, 2)} {units}</td></tr>
          <tr><td>Along, from the datum end</td><td>{formatLength(Math.min(...boxes.map((b) => b.minX)), units, 2)} to {formatLength(Math.max(...boxes.map((b) => b.maxX)), units, 2)} {units}</td></tr>
        </tbody></table>
      )}
      <h3>Seam</h3>
      <QuantityField label="Seam at" kind="angle" value={job.blank.seamDeg} units={units} onValue={(v) => bench.edit('seam', (j) => ({ ...j, blank: { ...j.blank, seamDeg: v } }))} />
      <p className="why">The line where the sheet&rsquo;s two edges meet. Lettering keeps its place on the blank when the seam moves.</p>
    </>
  );
}
