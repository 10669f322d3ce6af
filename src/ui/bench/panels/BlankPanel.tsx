'use client';

import Form from 'react-bootstrap/Form';
import type { Blank, Job, Machine } from '../../../core/job/schema';
import { createSurface } from '../../../core/surface/registry';
import { formatDeg, formatLength } from '../../common/format';
import { QuantityField } from '../../common/QuantityField';
import { useBench, useJob } from '../../state/benchStore';
import { BlankDrawing } from '../BlankDrawing';

const MATERIAL_NAMES: Record<Job['material'], string> = {
  brass: 'Brass', bronze: 'Bronze', steel: 'Steel', aluminium: 'Aluminium', slate: 'Slate', maple: 'Maple', acrylic: 'Acrylic',
};

/** The piece of stock, and how it sits on the machine. */
export function BlankPanel({ machines }: { machines: readonly Machine[] }) {
  const bench = useBench();
  const job = useJob();
  const { blank, machine, units } = job;
  const setBlank = (patch: Partial<Blank>) => bench.edit(`blank ${Object.keys(patch).join()}`, (j) => ({ ...j, blank: { ...j.blank, ...patch } }));
  const setMachine = (patch: Partial<Machine>) => bench.edit(`machine ${Object.keys(patch).join()}`, (j) => ({ ...j, machine: { ...j.machine, ...patch } }));
  const surface = createSurface(blank);
  const unit = units === 'mm' ? 1 : 25.4;
  return (
    <>
      <h2>Blank: cylinder</h2>
      <BlankDrawing blank={blank} units={units} />
      <div className="fields">
        <QuantityField label="Diameter" kind="length" value={blank.diameterMm} units={units} onValue={(v) => setBlank({ diameterMm: v })} />
        <QuantityField label="Length" kind="length" value={blank.lengthMm} units={units} onValue={(v) => setBlank({ lengthMm: v })} />
        <QuantityField label="Bore (0 if solid)" kind="length" value={blank.boreMm} units={units} onValue={(v) => setBlank({ boreMm: v })} />
        <Form.Group controlId="material">
          <Form.Label>Material</Form.Label>
          <Form.Select size="sm" value={job.material} onChange={(e) => bench.edit('material', (j) => ({ ...j, material: e.target.value as Job['material'] }))}>
            {Object.entries(MATERIAL_NAMES).map(([id, name]) => <option key={id} value={id}>{name}</option>)}
          </Form.Select>
        </Form.Group>
        <Form.Group controlId="units" className="wide">
          <Form.Label>Figures in</Form.Label>
          <div>
            {(['mm', 'in'] as const).map((u) => (
              <Form.Check key={u} inline type="radio" id={`units-${u}`} label={u === 'mm' ? 'millimetres' : 'inches'} checked={units === u} onChange={() => bench.edit('units', (j) => ({ ...j, units: u }))} />
            ))}
          </div>
        </Form.Group>
      </div>
      <h3>Unrolled</h3>
      <table className="figures"><tbody>
        <tr><td>Along × round</td><td data-testid="unrolled-size">{formatLength(blank.lengthMm, units)} × {formatLength(surface.periodMm!, units, 4)} {units}</td></tr>
        <tr><td>One {units === 'mm' ? 'millimetre' : 'inch'} round is</td><td>{formatDeg((unit / surface.mmPerRad) * (180 / Math.PI), 4)}</td></tr>
        <tr><td>One degree is</td><td>{formatLength((surface.mmPerRad * Math.PI) / 180, units, 4)} {units}</td></tr>
      </tbody></table>

      <h3>Zero</h3>
      <Form.Check type="radio" id="zero-axis" label="Z zero on the axis of rotation" checked={blank.zero === 'axis'} onChange={() => setBlank({ zero: 'axis' })} />
      <Form.Check type="radio" id="zero-surface" label="Z zero on the surface" checked={blank.zero === 'surface'} onChange={() => setBlank({ zero: 'surface' })} />
      <p className="why">
        {blank.zero === 'axis'
          ? 'The axis stays where it is however the blank turns: safe for any blank.'
          : 'Only a truly round blank may be zeroed on its surface: where it runs out of round, the depth is off by as much.'}{' '}
        X is zero at the datum end, {machine.rotaryLetter} on the line that faces the tool.
      </p>

      <h3>On the machine</h3>
      <div className="fields">
        <Form.Group controlId="machine" className="wide">
          <Form.Label>Machine</Form.Label>
          <Form.Select size="sm" value={machine.id} onChange={(e) => {
            const found = machines.find((m) => m.id === e.target.value);
            if (found) bench.edit('machine', (j) => ({ ...j, machine: found }));
          }}>
            {!machines.some((m) => m.id === machine.id) && <option value={machine.id}>{machine.name} (from this job)</option>}
            {machines.map((m) => <option key={m.id} value={m.id}>{m.name}</option>)}
          </Form.Select>
        </Form.Group>
        <Form.Group controlId="wrapped">
          <Form.Label>Rotary takes the place of</Form.Label>
          <Form.Select size="sm" value={machine.wrappedAxis} onChange={(e) => setMachine({ wrappedAxis: e.target.value as 'X' | 'Y' })}>
            <option value="Y">Y (blank along X)</option>
            <option value="X">X (blank along Y)</option>
          </Form.Select>
        </Form.Group>
        <Form.Group controlId="letter">
          <Form.Label>Its letter</Form.Label>
          <Form.Select size="sm" value={machine.rotaryLetter} onChange={(e) => setMachine({ rotaryLetter: e.target.value as 'A' | 'B' | 'C' })}>
            {['A', 'B', 'C'].map((l) => <option key={l}>{l}</option>)}
          </Form.Select>
        </Form.Group>
        <Form.Group controlId="sense" className="wide">
          <Form.Label>Sense of rotation</Form.Label>
          <Form.Select size="sm" value={machine.sense} onChange={(e) => setMachine({ sense: Number(e.target.value) === 1 ? 1 : -1 })}>
            <option value={1}>+ turns the near side up (right-handed)</option>
            <option value={-1}>+ turns the near side down</option>
          </Form.Select>
          <p className="why">A wrong sense engraves a mirror image. Jog the rotary by +10° and look: that is its sense.</p>
        </Form.Group>
        <Form.Group controlId="feed-mode">
          <Form.Label>Feed words</Form.Label>
          <Form.Select size="sm" value={machine.feedMode} onChange={(e) => setMachine({ feedMode: e.target.value as 'G93' | 'G94' })}>
            <option value="G93">G93, inverse time</option>
            <option value="G94">G94, compensated</option>
          </Form.Select>
        </Form.Group>
        <QuantityField label="Rotary at most, °/min" kind="number" value={machine.maxTurnDegPerMin} units={units} onValue={(v) => setMachine({ maxTurnDegPerMin: v })} />
      </div>
    </>
  );
}
