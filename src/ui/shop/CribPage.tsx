'use client';

import { useState } from 'react';
import Form from 'react-bootstrap/Form';
import { PlusIcon, TrashIcon } from '@phosphor-icons/react';
import { COLLET } from '../../core/job/defaults';
import { refuseNumber, toolSchema, type Tool } from '../../core/job/schema';
import { Button } from '../common/Button';
import { NameField } from '../common/NameField';
import { QuantityField } from '../common/QuantityField';
import { DamagedRows } from './DamagedRows';
import { explainRefusal, useShopList } from './useShopList';

const KINDS: Record<Tool['kind'], string> = { v: 'V, flat or sharp tip', 'ball-v': 'V, ball tip', flat: 'flat end mill' };

/** The drawer of cutters. A job keeps its own copy of each it uses, so a change here does not change a proven job. */
export function CribPage({ tools, damaged }: { tools: readonly Tool[]; damaged: readonly { id: string; what: string }[] }) {
  const { items, failure, put, patch, remove } = useShopList<Tool>('/api/tools', tools);
  const [openId, setOpenId] = useState<string | null>(null);
  const open = items.find((t) => t.id === openId);
  const set = (tool: Tool, change: Partial<Tool>): string | null =>
    patch(tool.id, change, (next) => explainRefusal(toolSchema.safeParse(next)) ?? refuseNumber(items, next));
  const add = () => {
    const taken = new Set(items.map((t) => t.number));
    let number = 1;
    while (taken.has(number)) number++;
    const tool: Tool = {
      id: `tool-${crypto.randomUUID().slice(0, 8)}`,
      name: `60° V no. ${number}`,
      kind: 'v',
      includedDeg: 60,
      tipMm: 0.1,
      diameterMm: 6,
      fluteLengthMm: 5,
      shankMm: 6,
      ...COLLET,
      flutes: 1,
      number,
    };
    void put(tool).then(() => setOpenId(tool.id));
  };
  return (
    <>
      <div className="d-flex align-items-center mb-3">
        <h1 className="h4 mb-0 flex-grow-1">Crib</h1>
        <Button onClick={add}>
          <PlusIcon size={15} /> Add a cutter
        </Button>
      </div>
      {failure && (
        <p role="alert" className="text-danger">
          {failure}
        </p>
      )}
      <DamagedRows url="/api/tools" rows={damaged} />
      <table className="list mb-3">
        <thead>
          <tr>
            <th>T</th>
            <th>Cutter</th>
            <th>Kind</th>
            <th>Included</th>
            <th>Tip, mm</th>
            <th>Diameter, mm</th>
            <th>Flutes cut, mm</th>
            <th>
              <span className="visually-hidden">Remove</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {items.map((t) => (
            <tr key={t.id} style={t.id === openId ? { background: '#f5ecd6' } : undefined}>
              <td className="num">{t.number}</td>
              <td>
                <Button variant="link" className="p-0" onClick={() => setOpenId(t.id === openId ? null : t.id)}>
                  {t.name}
                </Button>
              </td>
              <td>{KINDS[t.kind]}</td>
              <td className="num">{t.kind === 'flat' ? '–' : `${t.includedDeg}°`}</td>
              <td className="num">{t.kind === 'flat' ? '–' : t.tipMm}</td>
              <td className="num">{t.diameterMm}</td>
              <td className="num">{t.fluteLengthMm}</td>
              <td>
                <Button variant="link" className="p-0 text-secondary" aria-label={`Remove ${t.name}`} onClick={() => void remove(t.id)}>
                  <TrashIcon size={15} />
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {open && (
        <div className="d-grid gap-2" style={{ gridTemplateColumns: 'repeat(4, 1fr)', maxWidth: 820 }}>
          <NameField
            key={open.id}
            label="Name"
            style={{ gridColumn: 'span 2' }}
            value={open.name}
            onValue={(name) => set(open, { name })}
          />
          <Form.Group controlId="tool-kind">
            <Form.Label>Kind</Form.Label>
            <Form.Select size="sm" value={open.kind} onChange={(e) => set(open, { kind: e.target.value as Tool['kind'] })}>
              {Object.entries(KINDS).map(([k, name]) => (
                <option key={k} value={k}>
                  {name}
                </option>
              ))}
            </Form.Select>
          </Form.Group>
          <QuantityField label="Number" kind="number" value={open.number} units="mm" onValue={(v) => set(open, { number: v })} />
          <QuantityField
            label="Included angle"
            kind="angle"
            value={open.includedDeg}
            units="mm"
            onValue={(v) => set(open, { includedDeg: v })}
          />
          <QuantityField
            label={open.kind === 'ball-v' ? 'Ball diameter' : 'Tip width'}
            kind="length"
            value={open.tipMm}
            units="mm"
            onValue={(v) => set(open, { tipMm: v })}
          />
          <QuantityField label="Diameter" kind="length" value={open.diameterMm} units="mm" onValue={(v) => set(open, { diameterMm: v })} />
          <QuantityField
            label="Flute length"
            kind="length"
            value={open.fluteLengthMm}
            units="mm"
            onValue={(v) => set(open, { fluteLengthMm: v })}
          />
          <QuantityField label="Shank" kind="length" value={open.shankMm} units="mm" onValue={(v) => set(open, { shankMm: v })} />
          <QuantityField label="Stick-out" kind="length" value={open.stickOutMm} units="mm" onValue={(v) => set(open, { stickOutMm: v })} />
          <QuantityField
            label="Holder (0: not known)"
            kind="length"
            value={open.holderMm}
            units="mm"
            onValue={(v) => set(open, { holderMm: v })}
          />
          <QuantityField
            label="Holder length"
            kind="length"
            value={open.holderLengthMm}
            units="mm"
            onValue={(v) => set(open, { holderLengthMm: v })}
          />
          <QuantityField label="Flutes" kind="number" value={open.flutes} units="mm" onValue={(v) => set(open, { flutes: v })} />
        </div>
      )}
      <p className="text-secondary mt-3">
        A job keeps its own copy of each cutter it uses: what you change here does not change a job that is proven.
      </p>
    </>
  );
}
