'use client';

import { useMemo, useRef, useState, type ReactNode } from 'react';
import Form from 'react-bootstrap/Form';
import { DownloadSimpleIcon, PlusIcon, TrashIcon, UploadSimpleIcon } from '@phosphor-icons/react';
import { readCrib, toCsv, toJson } from '../../core/crib/exchange';
import { findFreeNumber, listDrawer, putInDrawer } from '../../core/crib/drawer';
import { createTool } from '../../core/crib/starterTools';
import { DEFAULT_MACHINE } from '../../core/job/defaults';
import { machineSchema, refuseNumber, toolSchema, type Machine, type Tool, type ToolKind } from '../../core/job/schema';
import { Button } from '../common/Button';
import { formatLength, type Units } from '../common/format';
import { saveFile } from '../common/saveFile';
import { NameField } from '../common/NameField';
import { QuantityField } from '../common/QuantityField';
import { TextField } from '../common/fields';
import { CutterDrawing } from './CutterDrawing';
import { DamagedRows } from './DamagedRows';
import { SpeedsTable } from './SpeedsTable';
import { listSizes, TOOL_KINDS } from './toolKinds';
import { explainRefusal, useShopList } from './useShopList';

const SORTS = {
  number: { name: 'by number', of: (t: Tool) => t.number },
  name: { name: 'by name', of: (t: Tool) => t.name.toLowerCase() },
  diameter: { name: 'by diameter', of: (t: Tool) => t.diameterMm },
} as const;

interface Props {
  tools: readonly Tool[];
  damaged: readonly { id: string; what: string }[];
  machines: readonly Machine[];
}

/** The drawer of cutters. A job keeps its own copy of each it uses, so a change here does not change a proven job. */
export function CribPage({ tools, damaged, machines }: Props) {
  const { items, failure, put, patch, remove } = useShopList<Tool>('/api/tools', tools);
  const shop = useShopList<Machine>('/api/machines', machines);
  const [machineId, setMachineId] = useState(machines[0]?.id ?? '');
  const [units, setUnits] = useState<Units>('mm');
  // Speeds are held against it, and its drawer is shown.
  const machine = shop.items.find((m) => m.id === machineId) ?? DEFAULT_MACHINE;
  const putIn = (toolId: string, number: number | null): string | null => {
    const next = putInDrawer(machine, items, toolId, number);
    return 'refusal' in next ? next.refusal : shop.patch(machine.id, next, (m) => explainRefusal(machineSchema.safeParse(m)));
  };
  const [openId, setOpenId] = useState<string | null>(null);
  const [said, setSaid] = useState<string[]>([]);
  const open = items.find((t) => t.id === openId);
  const set = (tool: Tool, change: Partial<Tool>): string | null =>
    patch(tool.id, change, (next) => explainRefusal(toolSchema.safeParse(next)) ?? refuseNumber(items, next));
  /** A cutter that comes into the crib comes onto the machine that is shown, if that has not all of it anyhow. */
  const putNew = (fresh: readonly Tool[]) => {
    let { drawer } = machine;
    if (drawer === null) return;
    const all = [...items.filter((t) => !fresh.some((f) => f.id === t.id)), ...fresh];
    for (const { id, number } of fresh) {
      if (drawer.some((d) => d.toolId === id)) continue;
      const next = putInDrawer({ drawer }, all, id, findFreeNumber(drawer, number));
      if ('drawer' in next) drawer = next.drawer;
    }
    shop.patch(machine.id, { drawer }, (m) => explainRefusal(machineSchema.safeParse(m)));
  };
  const add = () => {
    const number = findFreeNumber(items, 1);
    const sizes = { includedDeg: 60, tipMm: 0.1, diameterMm: 6, fluteLengthMm: 5, flutes: 1 };
    const tool = createTool(`tool-${crypto.randomUUID().slice(0, 8)}`, number, `60° V no. ${number}`, 'v', sizes);
    void put(tool).then(() => setOpenId(tool.id));
    putNew([tool]);
  };
  const take = async (text: string) => {
    const { tools: found, refused } = readCrib(text);
    const taken = new Map(items.map((t) => [t.number, t.id]));
    for (const tool of found) {
      // A number that another cutter has gives way to the next free one.
      const holder = taken.get(tool.number);
      const number =
        holder && holder !== tool.id
          ? findFreeNumber(
              [...taken.keys()].map((n) => ({ number: n })),
              1,
            )
          : tool.number;
      taken.set(number, tool.id);
      await put({ ...tool, number });
    }
    putNew(found);
    setSaid([`${found.length} cutter${found.length === 1 ? '' : 's'} taken in`, ...refused]);
  };
  return (
    <>
      <CribHead items={items} onAdd={add} onFile={(text) => void take(text)}>
        <Form.Select
          size="sm"
          className="w-auto"
          aria-label="Machine"
          title="Speeds are held against it, and its drawer is shown"
          value={machineId}
          onChange={(e) => setMachineId(e.target.value)}
        >
          {shop.items.map((m) => (
            <option key={m.id} value={m.id}>
              {m.name}
            </option>
          ))}
        </Form.Select>
        <Form.Select size="sm" style={{ width: 78 }} aria-label="Units" value={units} onChange={(e) => setUnits(e.target.value as Units)}>
          <option value="mm">mm</option>
          <option value="in">in</option>
        </Form.Select>
      </CribHead>
      {said.length > 0 && (
        <ul role="status" className="list-unstyled">
          {said.map((line) => (
            <li key={line}>{line}</li>
          ))}
        </ul>
      )}
      {(failure ?? shop.failure) && (
        <p role="alert" className="text-danger">
          {failure ?? shop.failure}
        </p>
      )}
      <DamagedRows url="/api/tools" rows={damaged} />
      {open && <CutterForm tool={open} set={(change) => set(open, change)} machine={machine} units={units} />}
      <CutterList
        items={items}
        openId={openId}
        machine={machine}
        units={units}
        onOpen={setOpenId}
        onRemove={(id) => void remove(id)}
        onPutIn={putIn}
      />
      <p className="text-secondary mt-3">
        A job keeps its own copy of each cutter it uses: what you change here does not change a job that is proven.
      </p>
    </>
  );
}

interface HeadProps {
  items: readonly Tool[];
  children: ReactNode;
  onAdd(): void;
  onFile(this: void, text: string): void;
}

function CribHead({ items, children, onAdd, onFile }: HeadProps) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <div className="d-flex align-items-center gap-2 mb-3">
      <h1 className="h4 mb-0 flex-grow-1">Crib</h1>
      {children}
      <Button variant="outline-primary" onClick={() => saveFile('crib.csv', toCsv(items))}>
        <DownloadSimpleIcon size={15} /> CSV
      </Button>
      <Button variant="outline-primary" onClick={() => saveFile('crib.json', toJson(items))}>
        <DownloadSimpleIcon size={15} /> JSON
      </Button>
      <input
        ref={input}
        type="file"
        className="d-none"
        accept=".csv,.json,text/csv,application/json"
        aria-label="File of cutters"
        onChange={(e) => {
          const [file] = e.target.files ?? [];
          if (file) void file.text().then(onFile);
          e.target.value = '';
        }}
      />
      <Button variant="outline-primary" onClick={() => input.current?.click()}>
        <UploadSimpleIcon size={15} /> Take in a file
      </Button>
      <Button onClick={onAdd}>
        <PlusIcon size={15} /> Add a cutter
      </Button>
    </div>
  );
}

interface ListProps {
  items: readonly Tool[];
  openId: string | null;
  machine: Machine;
  units: Units;
  onOpen(this: void, id: string | null): void;
  onRemove(this: void, id: string): void;
  /** Puts a cutter into the machine's drawer under a number, or takes it out; says why not. */
  onPutIn(this: void, id: string, number: number | null): string | null;
}

/** The cutters that fit what is looked for, group by group. */
function CutterList({ items, openId, machine, units, onOpen, onRemove, onPutIn }: ListProps) {
  const [wanted, setWanted] = useState('');
  const [kind, setKind] = useState<ToolKind | 'all'>('all');
  const [sort, setSort] = useState<keyof typeof SORTS>('number');
  const [onlyIts, setOnlyIts] = useState(false);
  const its = useMemo(() => new Map(listDrawer(machine, items).map((t) => [t.id, t.number])), [machine, items]);
  const shown = useMemo(() => {
    const words = wanted.toLowerCase().split(/\s+/).filter(Boolean);
    const fits = (t: Tool): boolean => {
      const text = `t${t.number} ${t.name} ${TOOL_KINDS[t.kind].name} ${t.diameterMm} ${t.made}`.toLowerCase();
      return (kind === 'all' || t.kind === kind) && (!onlyIts || its.has(t.id)) && words.every((w) => text.includes(w));
    };
    const { of } = SORTS[sort];
    return items.filter(fits).sort((a, b) => (of(a) < of(b) ? -1 : of(a) > of(b) ? 1 : 0));
  }, [items, wanted, kind, sort, onlyIts, its]);
  const length = (mm: number): string => formatLength(mm, units);
  const kinds = (Object.keys(TOOL_KINDS) as ToolKind[]).filter((k) => items.some((t) => t.kind === k));
  return (
    <>
      <div className="d-flex gap-2 mb-2" style={{ maxWidth: 980 }}>
        <Form.Control
          size="sm"
          type="search"
          placeholder="Look for a cutter"
          aria-label="Look for a cutter"
          value={wanted}
          onChange={(e) => setWanted(e.target.value)}
        />
        <Form.Select size="sm" aria-label="Kind shown" value={kind} onChange={(e) => setKind(e.target.value as ToolKind | 'all')}>
          <option value="all">every kind</option>
          {kinds.map((k) => (
            <option key={k} value={k}>
              {TOOL_KINDS[k].name}
            </option>
          ))}
        </Form.Select>
        <Form.Select size="sm" aria-label="Order" value={sort} onChange={(e) => setSort(e.target.value as keyof typeof SORTS)}>
          {Object.entries(SORTS).map(([k, { name }]) => (
            <option key={k} value={k}>
              {name}
            </option>
          ))}
        </Form.Select>
        <Form.Check
          id="only-its"
          className="align-self-center text-nowrap"
          label={`Only those that ${machine.name} has`}
          checked={onlyIts}
          onChange={(e) => setOnlyIts(e.target.checked)}
        />
      </div>
      <table className="list mb-3">
        <thead>
          <tr>
            <th>T</th>
            <th>Cutter</th>
            <th>Kind</th>
            <th>Included</th>
            <th>Tip, {units}</th>
            <th>Diameter, {units}</th>
            <th>Flutes cut, {units}</th>
            <th>Speeds in</th>
            <th>On {machine.name}</th>
            <th>
              <span className="visually-hidden">Remove</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {shown.map((t) => (
            <tr key={t.id} style={t.id === openId ? { background: '#f5ecd6' } : undefined}>
              <td className="num">{t.number}</td>
              <td>
                <Button variant="link" className="p-0" onClick={() => onOpen(t.id === openId ? null : t.id)}>
                  {t.name}
                </Button>
              </td>
              <td>{TOOL_KINDS[t.kind].name}</td>
              <td className="num">{TOOL_KINDS[t.kind].isCone ? `${t.includedDeg}°` : '–'}</td>
              <td className="num">{TOOL_KINDS[t.kind].tip ? length(t.tipMm) : '–'}</td>
              <td className="num">{length(t.diameterMm)}</td>
              <td className="num">{length(t.fluteLengthMm)}</td>
              <td>{t.cuttingData.map((d) => d.material).join(', ') || '–'}</td>
              <td>
                <DrawerCell tool={t} number={its.get(t.id) ?? null} taken={its} onPutIn={onPutIn} />
              </td>
              <td>
                <Button variant="link" className="p-0 text-secondary" aria-label={`Remove ${t.name}`} onClick={() => onRemove(t.id)}>
                  <TrashIcon size={15} />
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {shown.length === 0 && <p>No cutter fits.</p>}
    </>
  );
}

interface DrawerProps {
  tool: Tool;
  /** The number that the machine knows it by; null where it has not got it. */
  number: number | null;
  taken: ReadonlyMap<string, number>;
  onPutIn: ListProps['onPutIn'];
}

/** Whether the machine has a cutter, and as which number. */
function DrawerCell({ tool, number, taken, onPutIn }: DrawerProps) {
  const free = () =>
    findFreeNumber(
      [...taken.values()].map((n) => ({ number: n })),
      tool.number,
    );
  return (
    <div className="d-flex gap-2 align-items-center">
      <Form.Check
        id={`${tool.id}-there`}
        aria-label={`${tool.name} is on the machine`}
        checked={number !== null}
        onChange={(e) => onPutIn(tool.id, e.target.checked ? free() : null)}
      />
      {number !== null && (
        <div style={{ width: 64 }}>
          <QuantityField
            kind="number"
            units="mm"
            value={number}
            ariaLabel={`number of ${tool.name} on the machine`}
            onValue={(v) => onPutIn(tool.id, v)}
          />
        </div>
      )}
    </div>
  );
}

interface FormProps {
  tool: Tool;
  set(this: void, change: Partial<Tool>): string | null;
  machine: Machine;
  units: Units;
}

function CutterForm({ tool, set, machine, units }: FormProps) {
  return (
    <section aria-label={tool.name} className="mb-4">
      <div className="d-flex gap-4 align-items-start mb-3">
        <div className="d-grid gap-2 flex-grow-1" style={{ gridTemplateColumns: 'repeat(4, 1fr)', maxWidth: 820 }}>
          <NameField key={tool.id} label="Name" style={{ gridColumn: 'span 2' }} value={tool.name} onValue={(name) => set({ name })} />
          <Form.Group controlId="tool-kind">
            <Form.Label>Kind</Form.Label>
            <Form.Select size="sm" value={tool.kind} onChange={(e) => set({ kind: e.target.value as ToolKind })}>
              {Object.entries(TOOL_KINDS).map(([k, { name }]) => (
                <option key={k} value={k}>
                  {name}
                </option>
              ))}
            </Form.Select>
          </Form.Group>
          <TextField label="Made of" value={tool.made} maxLength={120} onValue={(made) => set({ made })} />
          {listSizes(tool.kind).map(({ key, label, quantity }) => (
            <QuantityField key={key} label={label} kind={quantity} value={tool[key]} units={units} onValue={(v) => set({ [key]: v })} />
          ))}
        </div>
        <CutterDrawing tool={tool} />
      </div>
      <h2 className="h6">Speeds, against {machine.name}</h2>
      <SpeedsTable tool={tool} machine={machine} units={units} onData={(cuttingData) => set({ cuttingData })} />
    </section>
  );
}
