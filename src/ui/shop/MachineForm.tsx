import Form from 'react-bootstrap/Form';
import { DEFAULT_HEAD } from '../../core/job/defaults';
import type { Machine } from '../../core/job/schema';
import { describeTurn, getHead, withHead, withRotary, withWrappedAxis, type Head, type Rotary } from '../../core/machine/layouts/edit';
import { DIALECTS } from '../../core/program/registry';
import { NameField } from '../common/NameField';
import { QuantityField } from '../common/QuantityField';

const NUMBERS: readonly [keyof Machine & string, string, 'number' | 'feed' | 'length'][] = [
  ['maxFeedMmPerMin', 'Feed at most', 'feed'],
  ['rapidMmPerMin', 'Rapid', 'feed'],
  ['accelerationMmPerS2', 'Acceleration, mm/s²', 'number'],
  ['maxSpindleRpm', 'Spindle at most, rev/min', 'number'],
  ['lengthDigits', 'Decimals of lengths', 'number'],
  ['angleDigits', 'Decimals of angles', 'number'],
  ['chordToleranceMm', 'Chord tolerance', 'length'],
  ['cornerToleranceMm', 'Corners rounded by (0: none)', 'length'],
  ['maxBlocksPerS', 'Blocks a second', 'number'],
  ['mergeMm', 'Blocks merged within', 'length'],
  ['arcMm', 'Arcs (G2, G3) within; 0: none', 'length'],
  ['toolChangeS', 'Change of cutter, s', 'number'],
  ['spindleRunUpS', 'Spindle run-up, s', 'number'],
];

/** The settings of one machine. @param set Changes it; says why if that is refused. */
export function MachineForm({ machine, set }: { machine: Machine; set(change: Partial<Machine>): string | null }) {
  const { rotary } = machine.layout;
  const setRotary = (patch: Partial<Rotary>) => set(withRotary(machine, patch));
  return (
    <div className="d-grid gap-2" style={{ gridTemplateColumns: 'repeat(4, 1fr)', maxWidth: 900 }}>
      <NameField label="Name" style={{ gridColumn: 'span 2' }} value={machine.name} onValue={(name) => set({ name })} />
      <Form.Group controlId="m-wrapped">
        <Form.Label>Rotary takes the place of</Form.Label>
        <Form.Select
          size="sm"
          value={machine.layout.wrappedAxis}
          onChange={(e) => set(withWrappedAxis(machine, e.target.value as 'X' | 'Y'))}
        >
          <option value="Y">Y (blank along X)</option>
          <option value="X">X (blank along Y)</option>
        </Form.Select>
      </Form.Group>
      <Form.Group controlId="m-letter">
        <Form.Label>Its letter</Form.Label>
        <Form.Select size="sm" value={rotary.letter} onChange={(e) => setRotary({ letter: e.target.value as 'A' })}>
          {['A', 'B', 'C'].map((l) => (
            <option key={l}>{l}</option>
          ))}
        </Form.Select>
      </Form.Group>
      <Form.Group controlId="m-sense">
        <Form.Label>Sense of rotation</Form.Label>
        <Form.Select size="sm" value={rotary.sense} onChange={(e) => setRotary({ sense: Number(e.target.value) === 1 ? 1 : -1 })}>
          <option value={1}>+ brings the top {describeTurn(machine.layout.wrappedAxis, 1)}</option>
          <option value={-1}>+ brings the top {describeTurn(machine.layout.wrappedAxis, -1)}</option>
        </Form.Select>
      </Form.Group>
      <Form.Group controlId="m-dialect">
        <Form.Label>Its control reads</Form.Label>
        <Form.Select size="sm" value={machine.dialect} onChange={(e) => set({ dialect: e.target.value as Machine['dialect'] })}>
          {Object.entries(DIALECTS).map(([key, { name }]) => (
            <option key={key} value={key}>
              {name}
            </option>
          ))}
        </Form.Select>
      </Form.Group>
      <Form.Group controlId="m-unit">
        <Form.Label>Programs in</Form.Label>
        <Form.Select size="sm" value={machine.programUnit} onChange={(e) => set({ programUnit: e.target.value as Machine['programUnit'] })}>
          <option value="mm">millimetres</option>
          <option value="in">inches</option>
        </Form.Select>
      </Form.Group>
      <Form.Group controlId="m-files">
        <Form.Label>Programs go out as</Form.Label>
        <Form.Select size="sm" value={machine.files} onChange={(e) => set({ files: e.target.value as Machine['files'] })}>
          <option value="one">one file</option>
          <option value="per-cutter">one file for each cutter</option>
        </Form.Select>
      </Form.Group>
      <Form.Group controlId="m-feed">
        <Form.Label>Feed words</Form.Label>
        <Form.Select size="sm" value={machine.feedMode} onChange={(e) => set({ feedMode: e.target.value as 'G93' })}>
          <option value="G93">G93, inverse time</option>
          <option value="G94">G94, compensated</option>
        </Form.Select>
      </Form.Group>
      <Form.Check
        className="align-self-end"
        id="m-changer"
        label="Tool changer"
        checked={machine.toolChanger}
        onChange={(e) => set({ toolChanger: e.target.checked })}
      />
      <Form.Group controlId="m-lengths">
        <Form.Label>Lengths of cutters</Form.Label>
        <Form.Select size="sm" value={machine.toolLengths} onChange={(e) => set({ toolLengths: e.target.value as 'table' })}>
          <option value="table">called from its table (G43)</option>
          <option value="control">kept by the control</option>
        </Form.Select>
      </Form.Group>
      {NUMBERS.map(([key, label, kind]) => (
        <QuantityField
          key={key}
          label={label}
          kind={kind}
          value={machine[key] as number}
          units="mm"
          onValue={(v) => set({ [key]: v } as Partial<Machine>)}
        />
      ))}
      {(['X', 'Y', 'Z'] as const).map((letter) => (
        <QuantityField
          key={letter}
          label={`Travel of ${letter} (0: not known)`}
          kind="length"
          value={machine.travelMm[letter]}
          units="mm"
          onValue={(mm) => set({ travelMm: { ...machine.travelMm, [letter]: mm } })}
        />
      ))}
      <QuantityField
        label="Rotary at most, °/min"
        kind="number"
        value={rotary.maxDegPerMin}
        units="mm"
        onValue={(maxDegPerMin) => setRotary({ maxDegPerMin })}
      />
      <QuantityField
        label="Rotary acceleration, °/s²"
        kind="number"
        value={rotary.accelerationDegPerS2}
        units="mm"
        onValue={(accelerationDegPerS2) => setRotary({ accelerationDegPerS2 })}
      />
      <QuantityField
        label="Chuck (0: not known)"
        kind="length"
        value={rotary.chuckMm}
        units="mm"
        onValue={(chuckMm) => setRotary({ chuckMm })}
      />
      <QuantityField
        label="Tailstock (0: none)"
        kind="length"
        value={rotary.tailstockMm}
        units="mm"
        onValue={(tailstockMm) => setRotary({ tailstockMm })}
      />
      <HeadFields machine={machine} set={(head) => set(withHead(machine, head))} />
    </div>
  );
}

/** The head that tilts, where the machine has one. */
function HeadFields({ machine, set }: { machine: Machine; set(head: Head | null): string | null }) {
  const head = getHead(machine.layout);
  const { rotary } = machine.layout;
  const letter = (['B', 'A', 'C'] as const).find((l) => l !== rotary.letter)!;
  const put = (patch: Partial<Head>) => set({ ...head!, ...patch });
  return (
    <>
      <Form.Check
        className="align-self-end"
        style={{ gridColumn: '1 / -1' }}
        id="m-tilts"
        label="The head tilts the tool, in the plane of the blank’s axis and Z"
        checked={head !== null}
        onChange={(e) => set(e.target.checked ? { ...DEFAULT_HEAD, letter } : null)}
      />
      {head && (
        <>
          <Form.Group controlId="m-tilt-letter">
            <Form.Label>Its letter</Form.Label>
            <Form.Select size="sm" value={head.letter} onChange={(e) => put({ letter: e.target.value as 'B' })}>
              {['A', 'B', 'C']
                .filter((l) => l !== rotary.letter)
                .map((l) => (
                  <option key={l}>{l}</option>
                ))}
            </Form.Select>
          </Form.Group>
          <Form.Group controlId="m-tilt-sense">
            <Form.Label>A growing word leans the tool</Form.Label>
            <Form.Select size="sm" value={head.sense} onChange={(e) => put({ sense: Number(e.target.value) === 1 ? 1 : -1 })}>
              <option value={1}>to the blank’s far end</option>
              <option value={-1}>to its datum end</option>
            </Form.Select>
          </Form.Group>
          <QuantityField label="From" kind="angle" value={head.minDeg} units="mm" onValue={(v) => put({ minDeg: v })} />
          <QuantityField label="To" kind="angle" value={head.maxDeg} units="mm" onValue={(v) => put({ maxDeg: v })} />
          <QuantityField
            label="Tilt axis to tip (0: control keeps the tip)"
            kind="length"
            value={head.pivotMm}
            units="mm"
            onValue={(v) => put({ pivotMm: v })}
          />
          <QuantityField
            label="Tilt at most, °/min"
            kind="number"
            value={head.maxDegPerMin}
            units="mm"
            onValue={(v) => put({ maxDegPerMin: v })}
          />
        </>
      )}
    </>
  );
}
