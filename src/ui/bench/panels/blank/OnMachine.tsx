import Form from 'react-bootstrap/Form';
import { getMount } from '../../../../core/job/blankText';
import { takeHeights } from '../../../../core/job/heights';
import type { Blank, Job, Machine } from '../../../../core/job/schema';
import { describeTurn, getHead, getRotary, getTable, withRotary, withWrappedAxis } from '../../../../core/machine/layouts/edit';
import { formatDeg } from '../../../common/format';
import { QuantityField } from '../../../common/QuantityField';
import { useBench, useJob } from '../../../state/benchStore';

/** How the tool stands where something tilts. */
function TiltFields() {
  const bench = useBench();
  const { motion, units } = useJob();
  const put = (patch: Partial<Job['motion']>) =>
    bench.edit(`motion ${Object.keys(patch).join()}`, (j) => ({ ...j, motion: { ...j.motion, ...patch } }));
  const most = motion.mostTiltDeg;
  return (
    <>
      <QuantityField label="Tool leads by" kind="angle" value={motion.leadDeg} units={units} onValue={(leadDeg) => put({ leadDeg })} />
      <QuantityField
        label="Tilted at most"
        kind="angle"
        value={most ?? 180}
        units={units}
        onValue={(v) => put({ mostTiltDeg: v >= 180 ? null : v })}
      />
      <p className="why wide">
        {motion.leadDeg === 0 ? 'The tool stands along the normal of the surface' : 'The tool leans from the normal towards the far end'}
        {most === null
          ? ', as far as the machine can tilt.'
          : `, tilted by no more than ${formatDeg(most)}, and as near to it as that allows.`}
      </p>
    </>
  );
}

/** The machine that the blank is on, and what of it a job changes. */
export function OnMachine({ blank, machines }: { blank: Blank; machines: readonly Machine[] }) {
  const bench = useBench();
  const { machine, units } = useJob();
  const setMachine = (patch: Partial<Machine>) =>
    bench.edit(`machine ${Object.keys(patch).join()}`, (j) => ({ ...j, machine: { ...j.machine, ...patch } }));
  const change = (name: string, to: (m: Machine) => Machine) => bench.edit(`machine ${name}`, (j) => ({ ...j, machine: to(j.machine) }));
  const { wrappedAxis } = machine.layout;
  const rotary = getMount(blank) === 'rotary' ? getRotary(machine.layout) : null;
  const turns = rotary !== null;
  const head = getHead(machine.layout);
  const table = getTable(machine.layout);
  return (
    <>
      <h3>On the machine</h3>
      <div className="fields">
        <Form.Group controlId="machine" className="wide">
          <Form.Label>Machine</Form.Label>
          <Form.Select
            size="sm"
            value={machine.id}
            onChange={(e) => {
              const found = machines.find((m) => m.id === e.target.value);
              if (found) bench.edit('machine', (j) => ({ ...j, machine: found, motion: { ...j.motion, ...takeHeights(j, found) } }));
            }}
          >
            {!machines.some((m) => m.id === machine.id) && <option value={machine.id}>{machine.name} (from this job)</option>}
            {machines.map((m) => (
              <option key={m.id} value={m.id}>
                {m.name}
              </option>
            ))}
          </Form.Select>
          <p className="why">
            {table
              ? getMount(blank) === 'rotary'
                ? 'The blank stands on the table, its datum end down; the table turns and tilts it under the tool'
                : 'The blank lies on the table, which tilts and turns it under the tool'
              : turns
                ? 'The rotary turns the blank'
                : 'The blank lies still on the table'}
            {table
              ? ', which stands upright.'
              : head
                ? `, and the head tilts the tool from ${formatDeg(head.minDeg)} to ${formatDeg(head.maxDeg)}.`
                : turns
                  ? '; the tool stands towards the axis.'
                  : '; the tool stands upright.'}
          </p>
        </Form.Group>
        <Form.Group controlId="wrapped">
          <Form.Label>{turns ? 'Rotary takes the place of' : 'The blank lies along'}</Form.Label>
          <Form.Select
            size="sm"
            value={wrappedAxis}
            onChange={(e) => change('wrapped', (m) => withWrappedAxis(m, e.target.value as 'X' | 'Y'))}
          >
            <option value="Y">{turns ? 'Y (blank along X)' : 'X'}</option>
            <option value="X">{turns ? 'X (blank along Y)' : 'Y'}</option>
          </Form.Select>
        </Form.Group>
        {rotary && (
          <>
            <Form.Group controlId="letter">
              <Form.Label>Its letter</Form.Label>
              <Form.Select
                size="sm"
                value={rotary.letter}
                onChange={(e) => change('letter', (m) => withRotary(m, { letter: e.target.value as 'A' | 'B' | 'C' }))}
              >
                {['A', 'B', 'C']
                  .filter((l) => l !== head?.letter)
                  .map((l) => (
                    <option key={l}>{l}</option>
                  ))}
              </Form.Select>
            </Form.Group>
            <Form.Group controlId="sense" className="wide">
              <Form.Label>Sense of rotation</Form.Label>
              <Form.Select
                size="sm"
                value={rotary.sense}
                onChange={(e) => change('sense', (m) => withRotary(m, { sense: Number(e.target.value) === 1 ? 1 : -1 }))}
              >
                <option value={1}>+ brings the top {describeTurn(machine.layout.wrappedAxis, 1)} (right-handed)</option>
                <option value={-1}>+ brings the top {describeTurn(machine.layout.wrappedAxis, -1)}</option>
              </Form.Select>
              <p className="why">
                A wrong sense engraves a mirror image. Stand where X runs to your right and Y away from you, jog the rotary by +10° and see
                where the top of the blank goes: that is its sense.
              </p>
            </Form.Group>
          </>
        )}
        <Form.Group controlId="feed-mode">
          <Form.Label>Feed words</Form.Label>
          <Form.Select size="sm" value={machine.feedMode} onChange={(e) => setMachine({ feedMode: e.target.value as 'G93' | 'G94' })}>
            <option value="G93">G93, inverse time</option>
            <option value="G94">G94, compensated</option>
          </Form.Select>
        </Form.Group>
        {rotary && (
          <QuantityField
            label="Rotary at most, °/min"
            kind="number"
            value={rotary.maxDegPerMin}
            units={units}
            onValue={(v) => change('turn', (m) => withRotary(m, { maxDegPerMin: v }))}
          />
        )}
        {(head ?? table) && <TiltFields />}
      </div>
    </>
  );
}
