'use client';

import { type Lay } from '../../../../core/job/schema';
import { type Surface } from '../../../../core/surface/surface';
import { Button } from '../../../common/Button';
import { Choice } from '../../../common/fields';
import { QuantityField } from '../../../common/QuantityField';
import { useBench, useJob } from '../../../state/benchStore';

/** From where lettering is projected. */
export function ProjectFields({ lay, set, surface }: { lay: Lay; set(patch: Partial<Lay>): string | null; surface: Surface }) {
  const bench = useBench();
  const units = useJob().units;
  const presets: [string, number, number][] = [
    ['Operator’s view', 0, 0],
    ['Along the axis, datum end', 0, -90],
    ['Along the axis, far end', 0, 90],
  ];
  return (
    <>
      <Choice
        label="Seen from"
        value={lay.from}
        options={[
          ['normal', 'straight over each inscription’s anchor'],
          ['direction', 'one direction for all'],
        ]}
        onValue={(from) => set({ from })}
      />
      {lay.from === 'direction' && (
        <>
          <div className="fields">
            <QuantityField
              label={surface.round ? 'From the turn' : 'Leaning across by'}
              kind="angle"
              value={lay.turnDeg}
              units={units}
              onValue={(v) => set({ turnDeg: v })}
            />
            <QuantityField
              label="Leaning to the far end by"
              kind="angle"
              value={lay.tiltDeg}
              units={units}
              onValue={(v) => set({ tiltDeg: v })}
            />
          </div>
          <div className="d-flex flex-wrap gap-1 mt-1">
            {presets.map(([name, turnDeg, tiltDeg]) => (
              <Button key={name} size="sm" variant="outline-primary" onClick={() => set({ turnDeg, tiltDeg })}>
                {name}
              </Button>
            ))}
            <Button
              size="sm"
              variant="outline-primary"
              title="The turn that the Blank view shows now"
              onClick={() => set({ turnDeg: -bench.view.getState().turnDeg || 0, tiltDeg: 0 })}
            >
              As turned now
            </Button>
          </div>
        </>
      )}
      <QuantityField
        label="Too steep from"
        kind="angle"
        value={lay.steepLimitDeg}
        units={units}
        onValue={(v) => set({ steepLimitDeg: v })}
      />
      <p className="why">Strokes grow by 1 / cos of the angle between sight and surface: 1.15 times at 30°, twice at 60°.</p>
    </>
  );
}
