'use client';

import { useState } from 'react';
import Form from 'react-bootstrap/Form';
import { PlusIcon, TrashIcon } from '@phosphor-icons/react';
import { DEFAULT_HEAD, DEFAULT_MACHINE } from '../../core/job/defaults';
import { getHead, withHead, withRotary, withWrappedAxis, type Head, type Rotary } from '../../core/machine/layouts/edit';
import { getLayout } from '../../core/machine/layouts/registry';
import { machineSchema, type Machine } from '../../core/job/schema';
import { Button } from '../common/Button';
import { QuantityField } from '../common/QuantityField';
import { explainRefusal, useShopList } from './useShopList';

const NUMBERS: readonly [keyof Machine & string, string, 'number' | 'feed' | 'length'][] = [
  ['maxFeedMmPerMin', 'Feed at most', 'feed'],
  ['rapidMmPerMin', 'Rapid', 'feed'],
  ['accelerationMmPerS2', 'Acceleration, mm/s²', 'number'],
  ['maxSpindleRpm', 'Spindle at most, rev/min', 'number'],
  ['lengthDigits', 'Decimals of lengths', 'number'],
  ['angleDigits', 'Decimals of angles', 'number'],
  ['chordToleranceMm', 'Chord tolerance', 'length'],
];

/** The machines of the house. A job keeps its own copy of the one it is for. */
export function MachinesPage({ machines }: { machines: readonly Machine[] }) {
  const { items, failure, put, patch, remove } = useShopList<Machine>('/api/machines', machines);
  const [openId, setOpenId] = useState<string | null>(items[0]?.id ?? null);
  const open = items.find((m) => m.id === openId);
  const set = (machine: Machine, change: Partial<Machine>): string | null =>
    patch(machine.id, change, (next) => explainRefusal(machineSchema.safeParse(next)));
  const rotary = open?.layout.rotary;
  const setRotary = (patch: Partial<Rotary>) => (open ? set(open, withRotary(open, patch)) : null);
  const add = () => {
    const machine: Machine = { ...DEFAULT_MACHINE, id: `machine-${crypto.randomUUID().slice(0, 8)}`, name: 'Another machine' };
    void put(machine).then(() => setOpenId(machine.id));
  };
  return (
    <>
      <div className="d-flex align-items-center mb-3">
        <h1 className="h4 mb-0 flex-grow-1">Machines</h1>
        <Button onClick={add}>
          <PlusIcon size={15} /> Add a machine
        </Button>
      </div>
      {failure && (
        <p role="alert" className="text-danger">
          {failure}
        </p>
      )}
      <table className="list mb-3">
        <thead>
          <tr>
            <th>Machine</th>
            <th>Blank along</th>
            <th>Rotary</th>
            <th>Sense</th>
            <th>Head</th>
            <th>Feed words</th>
            <th>Changer</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {items.map((m) => (
            <tr key={m.id} style={m.id === openId ? { background: '#f5ecd6' } : undefined}>
              <td>
                <Button variant="link" className="p-0" onClick={() => setOpenId(m.id)}>
                  {m.name}
                </Button>
              </td>
              <td>{getLayout(m.layout).along(m.layout)}</td>
              <td>
                {m.layout.rotary.letter}, in place of {m.layout.wrappedAxis}
              </td>
              <td className="num">{m.layout.rotary.sense > 0 ? '+' : '−'}</td>
              <td>{describeHead(getHead(m.layout))}</td>
              <td className="num">{m.feedMode}</td>
              <td>{m.toolChanger ? 'yes' : 'by hand'}</td>
              <td>
                <Button variant="link" className="p-0 text-secondary" aria-label={`Remove ${m.name}`} onClick={() => void remove(m.id)}>
                  <TrashIcon size={15} />
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {open && (
        <div className="d-grid gap-2" style={{ gridTemplateColumns: 'repeat(4, 1fr)', maxWidth: 900 }} key={open.id}>
          <Form.Group controlId="machine-name" style={{ gridColumn: 'span 2' }}>
            <Form.Label>Name</Form.Label>
            <Form.Control size="sm" defaultValue={open.name} onBlur={(e) => set(open, { name: e.target.value })} />
          </Form.Group>
          <Form.Group controlId="m-wrapped">
            <Form.Label>Rotary takes the place of</Form.Label>
            <Form.Select
              size="sm"
              value={open.layout.wrappedAxis}
              onChange={(e) => set(open, withWrappedAxis(open, e.target.value as 'X' | 'Y'))}
            >
              <option value="Y">Y (blank along X)</option>
              <option value="X">X (blank along Y)</option>
            </Form.Select>
          </Form.Group>
          <Form.Group controlId="m-letter">
            <Form.Label>Its letter</Form.Label>
            <Form.Select size="sm" value={rotary!.letter} onChange={(e) => setRotary({ letter: e.target.value as 'A' })}>
              {['A', 'B', 'C'].map((l) => (
                <option key={l}>{l}</option>
              ))}
            </Form.Select>
          </Form.Group>
          <Form.Group controlId="m-sense">
            <Form.Label>Sense of rotation</Form.Label>
            <Form.Select size="sm" value={rotary!.sense} onChange={(e) => setRotary({ sense: Number(e.target.value) === 1 ? 1 : -1 })}>
              <option value={1}>+ turns the near side up</option>
              <option value={-1}>+ turns the near side down</option>
            </Form.Select>
          </Form.Group>
          <Form.Group controlId="m-feed">
            <Form.Label>Feed words</Form.Label>
            <Form.Select size="sm" value={open.feedMode} onChange={(e) => set(open, { feedMode: e.target.value as 'G93' })}>
              <option value="G93">G93, inverse time</option>
              <option value="G94">G94, compensated</option>
            </Form.Select>
          </Form.Group>
          <Form.Check
            className="align-self-end"
            id="m-changer"
            label="Tool changer"
            checked={open.toolChanger}
            onChange={(e) => set(open, { toolChanger: e.target.checked })}
          />
          {NUMBERS.map(([key, label, kind]) => (
            <QuantityField
              key={key}
              label={label}
              kind={kind}
              value={open[key] as number}
              units="mm"
              onValue={(v) => set(open, { [key]: v } as Partial<Machine>)}
            />
          ))}
          <QuantityField
            label="Rotary at most, °/min"
            kind="number"
            value={rotary!.maxDegPerMin}
            units="mm"
            onValue={(maxDegPerMin) => setRotary({ maxDegPerMin })}
          />
          <QuantityField
            label="Rotary acceleration, °/s²"
            kind="number"
            value={rotary!.accelerationDegPerS2}
            units="mm"
            onValue={(accelerationDegPerS2) => setRotary({ accelerationDegPerS2 })}
          />
          <HeadFields machine={open} set={(head) => set(open, withHead(open, head))} />
        </div>
      )}
      <p className="text-secondary mt-3">
        A job keeps its own copy of its machine; choose the machine again at the job&rsquo;s Blank station to take over what you change
        here.
      </p>
    </>
  );
}

/** What a machine's head can do, in a few words. */
const describeHead = (head: Head | null): string =>
  head ? `tilts on ${head.letter}, ${String(head.minDeg).replace('-', '−')}° to ${head.maxDeg}°` : 'upright';

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
