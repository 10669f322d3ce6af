'use client';

import { useState } from 'react';
import { DownloadSimpleIcon, PlusIcon, TrashIcon, UploadSimpleIcon } from '@phosphor-icons/react';
import { toFileStem } from '../../core/base/fileStem';
import { readMachineFile, toMachineFile } from '../../core/job/machineFile';
import { DEFAULT_MACHINE } from '../../core/job/defaults';
import { getHead, getRotary, getTable } from '../../core/machine/layouts/edit';
import { getLayout } from '../../core/machine/layouts/registry';
import { machineSchema, type Machine } from '../../core/job/schema';
import { Button } from '../common/Button';
import { FileButton } from '../common/FileButton';
import { saveFile } from '../common/saveFile';
import { DamagedRows } from './DamagedRows';
import { MachineForm } from './machine/MachineForm';
import { explainRefusal, useShopList } from './useShopList';

/** Faults of a file that are said at once. */
const MAX_SAID = 3;

/** The machines of the house. A job keeps its own copy of the one it is for. */
export function MachinesPage({ machines, damaged }: { machines: readonly Machine[]; damaged: readonly { id: string; what: string }[] }) {
  const { items, failure, put, patch, remove } = useShopList<Machine>('/api/machines', machines);
  const [openId, setOpenId] = useState<string | null>(items[0]?.id ?? null);
  const [refusal, setRefusal] = useState<string | null>(null);
  const open = items.find((m) => m.id === openId);
  const set = (machine: Machine, change: Partial<Machine>): string | null =>
    patch(machine.id, change, (next) => explainRefusal(machineSchema.safeParse(next)));
  const add = () => {
    const machine: Machine = { ...DEFAULT_MACHINE, id: `machine-${crypto.randomUUID().slice(0, 8)}`, name: 'Another machine' };
    void put(machine).then(() => setOpenId(machine.id));
  };
  const take = async (file: File) => {
    const read = readMachineFile(await file.text());
    setRefusal(read.ok ? null : `${file.name} is no machine that Hobel can take: ${read.error.lines.slice(0, MAX_SAID).join('; ')}.`);
    if (!read.ok) return;
    // Beside one that is here already it is another.
    const taken = items.some((m) => m.id === read.value.id);
    const machine = taken ? { ...read.value, id: `machine-${crypto.randomUUID().slice(0, 8)}` } : read.value;
    await put(machine);
    setOpenId(machine.id);
  };
  return (
    <>
      <div className="d-flex align-items-center mb-3">
        <h1 className="h4 mb-0 flex-grow-1">Machines</h1>
        <FileButton
          accept=".json"
          label="Machine as a file"
          variant="outline-primary"
          className="me-2"
          onFiles={(files) => void take(files[0]!)}
        >
          <UploadSimpleIcon size={15} /> From a file
        </FileButton>
        <Button onClick={add}>
          <PlusIcon size={15} /> Add a machine
        </Button>
      </div>
      {[failure, refusal].map(
        (what) =>
          what && (
            <p key={what} role="alert" className="text-danger">
              {what}
            </p>
          ),
      )}
      <DamagedRows url="/api/machines" rows={damaged} />
      <MachineTable machines={items} openId={openId} onOpen={setOpenId} onRemove={(id) => void remove(id)} />
      {open && <MachineForm key={open.id} machine={open} set={(change) => set(open, change)} />}
      <p className="text-secondary mt-3">
        A job keeps its own copy of its machine; choose the machine again at the job&rsquo;s Blank station to take over what you change
        here.
      </p>
    </>
  );
}

interface TableProps {
  machines: readonly Machine[];
  openId: string | null;
  onOpen(id: string): void;
  onRemove(id: string): void;
}

function MachineTable({ machines, openId, onOpen, onRemove }: TableProps) {
  return (
    <table className="list mb-3">
      <thead>
        <tr>
          <th>Machine</th>
          <th>Blank along</th>
          <th>Turns</th>
          <th>Sense</th>
          <th>Tool</th>
          <th>Feed words</th>
          <th>Changer</th>
          <th>
            <span className="visually-hidden">Save and remove</span>
          </th>
        </tr>
      </thead>
      <tbody>
        {machines.map((m) => (
          <tr key={m.id} style={m.id === openId ? { background: '#f5ecd6' } : undefined}>
            <td>
              <Button variant="link" className="p-0" onClick={() => onOpen(m.id)}>
                {m.name}
              </Button>
            </td>
            <td>{getLayout(m.layout).along(m.layout, getTable(m.layout) ? 'rotary' : 'table')}</td>
            <td>{describeRotary(m)}</td>
            <td className="num">{describeSense(m)}</td>
            <td>{describeTilts(m)}</td>
            <td className="num">{m.feedMode}</td>
            <td>{m.toolChanger ? 'yes' : 'by hand'}</td>
            <td>
              <Button
                variant="link"
                className="p-0 me-3 text-secondary"
                aria-label={`Save ${m.name} as a file`}
                onClick={() => saveFile(`${toFileStem(m.name, 'machine')}.json`, toMachineFile(m))}
              >
                <DownloadSimpleIcon size={15} />
              </Button>
              <Button variant="link" className="p-0 text-secondary" aria-label={`Remove ${m.name}`} onClick={() => onRemove(m.id)}>
                <TrashIcon size={15} />
              </Button>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function describeRotary({ layout }: Machine): string {
  const table = getTable(layout);
  if (table) return `${table.turn.letter}, the table itself`;
  const rotary = getRotary(layout);
  return rotary ? `${rotary.letter}, in place of ${layout.wrappedAxis}` : 'none';
}

function describeSense({ layout }: Machine): string {
  const turning = getLayout(layout).turning(layout);
  return turning ? (turning.sense > 0 ? '+' : '−') : '';
}

/** What tilts on a machine, in a few words. */
function describeTilts({ layout }: Machine): string {
  const head = getHead(layout);
  const table = getTable(layout);
  const tilts = head ?? table?.tilt;
  if (!tilts) return 'upright';
  return `${head ? 'tilts' : 'upright, the table tilts'} on ${tilts.letter}, ${String(tilts.minDeg).replace('-', '−')}° to ${tilts.maxDeg}°`;
}
