'use client';

import { useMemo, useRef, useState } from 'react';
import Form from 'react-bootstrap/Form';
import { DownloadSimpleIcon, PlusIcon, TrashIcon, UploadSimpleIcon } from '@phosphor-icons/react';
import { readCrib, toCsv, toJson } from '../../core/crib/exchange';
import { createTool } from '../../core/crib/starterTools';
import { refuseNumber, toolSchema, type Machine, type Tool, type ToolKind } from '../../core/job/schema';
import { Button } from '../common/Button';
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
  /** What its speeds are held against. */
  machine: Pick<Machine, 'name' | 'maxSpindleRpm' | 'maxFeedMmPerMin'>;
}

/** The drawer of cutters. A job keeps its own copy of each it uses, so a change here does not change a proven job. */
export function CribPage({ tools, damaged, machine }: Props) {
  const { items, failure, put, patch, remove } = useShopList<Tool>('/api/tools', tools);
  const [openId, setOpenId] = useState<string | null>(null);
  const [said, setSaid] = useState<string[]>([]);
  const open = items.find((t) => t.id === openId);
  const set = (tool: Tool, change: Partial<Tool>): string | null =>
    patch(tool.id, change, (next) => explainRefusal(toolSchema.safeParse(next)) ?? refuseNumber(items, next));
  const freeNumber = (taken: ReadonlySet<number>): number => {
    let number = 1;
    while (taken.has(number)) number++;
    return number;
  };
  const add = () => {
    const number = freeNumber(new Set(items.map((t) => t.number)));
    const sizes = { includedDeg: 60, tipMm: 0.1, diameterMm: 6, fluteLengthMm: 5, flutes: 1 };
    const tool = createTool(`tool-${crypto.randomUUID().slice(0, 8)}`, number, `60° V no. ${number}`, 'v', sizes);
    void put(tool).then(() => setOpenId(tool.id));
  };
  const take = async (text: string) => {
    const { tools: found, refused } = readCrib(text);
    const taken = new Map(items.map((t) => [t.number, t.id]));
    for (const tool of found) {
      // A number that another cutter has gives way to the next free one.
      const holder = taken.get(tool.number);
      const number = holder && holder !== tool.id ? freeNumber(new Set(taken.keys())) : tool.number;
      taken.set(number, tool.id);
      await put({ ...tool, number });
    }
    setSaid([`${found.length} cutter${found.length === 1 ? '' : 's'} taken in`, ...refused]);
  };
  return (
    <>
      <CribHead items={items} onAdd={add} onFile={(text) => void take(text)} />
      {said.length > 0 && (
        <ul role="status" className="list-unstyled">
          {said.map((line) => (
            <li key={line}>{line}</li>
          ))}
        </ul>
      )}
      {failure && (
        <p role="alert" className="text-danger">
          {failure}
        </p>
      )}
      <DamagedRows url="/api/tools" rows={damaged} />
      {open && <CutterForm tool={open} set={(change) => set(open, change)} machine={machine} />}
      <CutterList items={items} openId={openId} onOpen={setOpenId} onRemove={(id) => void remove(id)} />
      <p className="text-secondary mt-3">
        A job keeps its own copy of each cutter it uses: what you change here does not change a job that is proven.
      </p>
    </>
  );
}

function CribHead({ items, onAdd, onFile }: { items: readonly Tool[]; onAdd(): void; onFile(this: void, text: string): void }) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <div className="d-flex align-items-center gap-2 mb-3">
      <h1 className="h4 mb-0 flex-grow-1">Crib</h1>
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
  onOpen(this: void, id: string | null): void;
  onRemove(this: void, id: string): void;
}

/** The cutters that fit what is looked for, group by group. */
function CutterList({ items, openId, onOpen, onRemove }: ListProps) {
  const [wanted, setWanted] = useState('');
  const [kind, setKind] = useState<ToolKind | 'all'>('all');
  const [sort, setSort] = useState<keyof typeof SORTS>('number');
  const shown = useMemo(() => {
    const words = wanted.toLowerCase().split(/\s+/).filter(Boolean);
    const fits = (t: Tool): boolean => {
      const text = `t${t.number} ${t.name} ${TOOL_KINDS[t.kind].name} ${t.diameterMm} ${t.made}`.toLowerCase();
      return (kind === 'all' || t.kind === kind) && words.every((w) => text.includes(w));
    };
    const { of } = SORTS[sort];
    return items.filter(fits).sort((a, b) => (of(a) < of(b) ? -1 : of(a) > of(b) ? 1 : 0));
  }, [items, wanted, kind, sort]);
  const kinds = (Object.keys(TOOL_KINDS) as ToolKind[]).filter((k) => items.some((t) => t.kind === k));
  return (
    <>
      <div className="d-flex gap-2 mb-2" style={{ maxWidth: 720 }}>
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
      </div>
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
            <th>Speeds in</th>
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
              <td className="num">{TOOL_KINDS[t.kind].tip ? t.tipMm : '–'}</td>
              <td className="num">{t.diameterMm}</td>
              <td className="num">{t.fluteLengthMm}</td>
              <td>{t.cuttingData.map((d) => d.material).join(', ') || '–'}</td>
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

interface FormProps {
  tool: Tool;
  set(this: void, change: Partial<Tool>): string | null;
  machine: Props['machine'];
}

function CutterForm({ tool, set, machine }: FormProps) {
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
            <QuantityField key={key} label={label} kind={quantity} value={tool[key]} units="mm" onValue={(v) => set({ [key]: v })} />
          ))}
        </div>
        <CutterDrawing tool={tool} />
      </div>
      <h2 className="h6">Speeds, against {machine.name}</h2>
      <SpeedsTable tool={tool} machine={machine} onData={(cuttingData) => set({ cuttingData })} />
    </section>
  );
}
