'use client';

import { wrapDeg } from '../../../../core/base/angle';
import { isRoundBlank } from '../../../../core/job/schema';
import { findWidestGap } from '../../../../core/lay/layGrid';
import { toTurnDeg, type Surface } from '../../../../core/surface/surface';
import { type LetteringView } from '../../../../workers/planning.client';
import { Button } from '../../../common/Button';
import { formatDeg } from '../../../common/format';
import { QuantityField } from '../../../common/QuantityField';
import { useBench, useJob } from '../../../state/benchStore';

import { inked } from './layWords';

/** Where the sheet's two edges meet. */
export function Seam({ seamDeg, surface, lettering }: { seamDeg: number; surface: Surface; lettering: LetteringView | null }) {
  const bench = useBench();
  const units = useJob().units;
  const setSeam = (deg: number, name: string) =>
    bench.edit(name, (j) => (isRoundBlank(j.blank) ? { ...j, blank: { ...j.blank, seamDeg: deg } } : j));
  const gap = findWidestGap(
    inked(lettering).map((i) => i.box),
    surface.periodMm!,
  );
  const gapDeg = gap && wrapDeg(toTurnDeg(surface, gap.middleY));
  return (
    <>
      <h3>Seam</h3>
      <div className="d-flex align-items-end gap-2">
        <QuantityField label="Seam at" kind="angle" value={seamDeg} units={units} onValue={(v) => setSeam(v, 'seam')} />
        <Button
          size="sm"
          variant="outline-primary"
          disabled={gapDeg === null}
          title={gapDeg === null ? 'The lettering leaves no gap' : `At ${formatDeg(gapDeg, 1)}`}
          onClick={() => gapDeg !== null && setSeam(Math.round(gapDeg * 1000) / 1000 || 180, bench.nameStep('seam'))}
        >
          To the widest gap
        </Button>
      </div>
      <p className="why">
        The line where the sheet&rsquo;s two edges meet; drag it on the sheet. Lettering keeps its place on the blank when it moves.
        {gap ? ` The widest gap is ${formatDeg(toTurnDeg(surface, gap.widthMm), 1)} wide.` : ''}
      </p>
    </>
  );
}
