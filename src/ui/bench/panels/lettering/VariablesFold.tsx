'use client';

import { useState } from 'react';
import { describeTableError, readTable } from '../../../../core/import/table';
import type { Variables } from '../../../../core/job/schema';
import { formatSerial } from '../../../../core/lettering/words';
import { Button } from '../../../common/Button';
import { FileButton } from '../../../common/FileButton';
import { Choice, Fold, TextField } from '../../../common/fields';
import { QuantityField } from '../../../common/QuantityField';
import { useBench, useJob } from '../../../state/benchStore';

/** What {serial}, {date} and the columns of a table stand for, and which piece is shown. */
export function VariablesFold() {
  const bench = useBench();
  const { units, variables: v } = useJob();
  const [note, setNote] = useState<{ text: string; bad: boolean } | null>(null);
  const set = (patch: Partial<Variables>) =>
    bench.edit(`variables ${Object.keys(patch).join()}`, (j) => ({ ...j, variables: { ...j.variables, ...patch } }));
  const read = async (chosen: File) => {
    if (chosen.size > 8 * 1024 * 1024) return setNote({ text: `${chosen.name} has more than 8 MB`, bad: true });
    const table = readTable(await chosen.text());
    if (!table.ok) return setNote({ text: describeTableError(table.error, chosen.name), bad: true });
    setNote({ text: [`${table.value.rows.length} rows from ${chosen.name}`, ...table.value.notes].join('. '), bad: false });
    set({ columns: table.value.columns, rows: table.value.rows, piece: 1 });
  };
  const row = v.rows[v.piece - 1];
  return (
    <Fold title="Words that vary" brief={`piece ${v.piece}, {serial} ${formatSerial(v, v.piece)}`}>
      <p className="why">
        In the words, {'{serial}'} and {'{date}'} stand for the piece’s own; so does{' '}
        {v.columns.length ? v.columns.map((c) => `{${c}}`).join(', ') : 'every column of a table, by its name in braces'}.
      </p>
      <div className="fields">
        <QuantityField label="Piece shown" kind="number" value={v.piece} units={units} onValue={(piece) => set({ piece })} />
        {v.rows.length ? <span className="why align-self-end">of {v.rows.length} rows</span> : <span />}
        <QuantityField
          label="Serial from"
          kind="number"
          value={v.serial.start}
          units={units}
          onValue={(start) => set({ serial: { ...v.serial, start } })}
        />
        <QuantityField
          label="by"
          kind="number"
          value={v.serial.step}
          units={units}
          onValue={(step) => set({ serial: { ...v.serial, step } })}
        />
        <QuantityField
          label="Digits at least"
          kind="number"
          value={v.serial.width}
          units={units}
          onValue={(width) => set({ serial: { ...v.serial, width } })}
        />
        <span />
        <TextField label="Date (empty: today)" value={v.date} onValue={(date) => set({ date })} />
        <Choice
          label="written"
          value={v.dateFormat}
          options={[
            ['2026-03-31', '2026-03-31'],
            ['31.03.2026', '31.03.2026'],
            ['03/2026', '03/2026'],
            ['2026', '2026'],
          ]}
          onValue={(dateFormat) => set({ dateFormat })}
        />
      </div>
      <div className="d-flex gap-2 mt-2">
        <FileButton size="sm" variant="outline-primary" accept=".csv,text/csv,.txt" label="CSV table" onFiles={([f]) => void read(f!)}>
          Read a table (CSV)
        </FileButton>
        {v.rows.length > 0 && (
          <Button size="sm" variant="outline-secondary" onClick={() => set({ columns: [], rows: [] })}>
            Remove it
          </Button>
        )}
      </div>
      {note && (
        <p className={note.bad ? 'small text-danger' : 'why'} role={note.bad ? 'alert' : 'status'}>
          {note.text}
        </p>
      )}
      {row && (
        <table className="figures mt-1">
          <tbody>
            {v.columns.map((c, k) => (
              <tr key={c}>
                <td>{c}</td>
                <td>{row[k] || '–'}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </Fold>
  );
}
