'use client';

import { useState } from 'react';
import { describeTableError, readTable, toScaleTable } from '../../../../core/import/table';
import type { SeriesInscription } from '../../../../core/job/schema';
import { Button } from '../../../common/Button';
import { FileButton } from '../../../common/FileButton';
import { Choice, Fold, TextField, Tick } from '../../../common/fields';
import { QuantityField } from '../../../common/QuantityField';
import { useJobPart, type InscriptionPatch } from '../../../state/benchStore';
import type { FontCard } from '../../../../core/lettering/fontCard';
import { FaceFields } from './FaceFields';

interface Props {
  inscription: SeriesInscription;
  fonts: readonly FontCard[];
  set(patch: InscriptionPatch): string | null;
}

const LISTS: Record<string, readonly string[]> = {
  'twelve months': ['JAN', 'FEB', 'MAR', 'APR', 'MAY', 'JUN', 'JUL', 'AUG', 'SEP', 'OCT', 'NOV', 'DEC'],
  'days 1 to 31': Array.from({ length: 31 }, (_, k) => String(k + 1)),
  weekdays: ['MON', 'TUE', 'WED', 'THU', 'FRI', 'SAT', 'SUN'],
  letters: Array.from({ length: 26 }, (_, k) => String.fromCharCode(65 + k)),
  compass: ['N', 'NE', 'E', 'SE', 'S', 'SW', 'W', 'NW'],
};

/** A scale or a dial: what it counts, how far it goes, its marks and its labels. */
export function SeriesForm({ inscription: s, fonts, set }: Props) {
  const units = useJobPart((j) => j.units);
  const [note, setNote] = useState<string | null>(null);
  const labels = (patch: Partial<SeriesInscription['labels']>) => set({ labels: { ...s.labels, ...patch } });
  const readCsv = async (chosen: File) => {
    const table = readTable(await chosen.text());
    if (!table.ok) return setNote(describeTableError(table.error, chosen.name));
    const scale = toScaleTable(table.value);
    if (!scale.ok) return setNote(`${chosen.name}, row ${scale.error.row}: the first two columns must be numbers, value and position`);
    const values = scale.value.map((p) => p.value);
    setNote([`${scale.value.length} values from ${chosen.name}`, ...table.value.notes].join('. '));
    set({ table: scale.value, from: Math.min(...values), to: Math.max(...values) });
  };
  const mark = (key: 'major' | 'middle' | 'minor', name: string) => (
    <div className="marks" key={key}>
      <span>{name}</span>
      <QuantityField
        kind="number"
        ariaLabel={`${name}: every so many steps`}
        value={s[key].every}
        units={units}
        onValue={(v) => set({ [key]: { ...s[key], every: v } } as InscriptionPatch)}
      />
      <QuantityField
        kind="length"
        ariaLabel={`${name}: length`}
        value={s[key].lengthMm}
        units={units}
        onValue={(v) => set({ [key]: { ...s[key], lengthMm: v } } as InscriptionPatch)}
      />
      <QuantityField
        kind="length"
        ariaLabel={`${name}: width, 0 for a stroke`}
        value={s[key].widthMm}
        units={units}
        onValue={(v) => set({ [key]: { ...s[key], widthMm: v } } as InscriptionPatch)}
      />
    </div>
  );
  return (
    <>
      <div className="fields">
        <Choice
          label="Runs"
          value={s.shape}
          options={[
            ['along', 'along a line'],
            ['round', 'round the blank'],
            ['dial', 'on a circle'],
          ]}
          onValue={(v) => set({ shape: v })}
        />
        {s.shape === 'along' ? (
          <QuantityField label="Length" kind="length" value={s.spanMm} units={units} onValue={(v) => set({ spanMm: v })} />
        ) : (
          <QuantityField label="Over" kind="angle" value={s.spanDeg} units={units} onValue={(v) => set({ spanDeg: v })} />
        )}
        {s.shape === 'dial' && (
          <QuantityField label="Radius" kind="length" value={s.radiusMm} units={units} onValue={(v) => set({ radiusMm: v })} />
        )}
        {s.shape === 'dial' && <span />}
        <QuantityField label="From" kind="number" value={s.from} units={units} onValue={(v) => set({ from: v })} />
        <QuantityField label="to" kind="number" value={s.to} units={units} onValue={(v) => set({ to: v })} />
        <QuantityField label="in steps of" kind="number" value={s.step} units={units} onValue={(v) => set({ step: v })} />
        <Choice
          label="Marks point"
          value={s.marksTo}
          options={[
            ['left', 'to the left'],
            ['right', 'to the right'],
            ['both', 'both ways'],
          ]}
          onValue={(v) => set({ marksTo: v })}
        />
      </div>
      <div className="marks head">
        <span>Marks</span>
        <span>every</span>
        <span>long</span>
        <span>wide</span>
      </div>
      {mark('major', 'Long')}
      {mark('middle', 'Middle')}
      {mark('minor', 'Short')}
      <p className="why">
        A mark without width is a stroke, for a centre-line cut; with a width it is an area, for a V-carve. The first class that counts a
        step draws it.
      </p>
      <Fold title="Labels" brief={s.labels.every ? `every ${s.labels.every}` : 'none'} open>
        <div className="fields">
          <QuantityField
            label="Every so many steps"
            kind="number"
            value={s.labels.every}
            units={units}
            onValue={(v) => labels({ every: v })}
          />
          <QuantityField label="Decimals" kind="number" value={s.labels.decimals} units={units} onValue={(v) => labels({ decimals: v })} />
          <TextField label="Before it" value={s.labels.prefix} maxLength={20} onValue={(v) => labels({ prefix: v })} />
          <TextField label="After it" value={s.labels.suffix} maxLength={20} onValue={(v) => labels({ suffix: v })} />
          <Choice
            label="Side"
            value={s.labels.side}
            options={[
              ['left', 'left'],
              ['right', 'right'],
            ]}
            onValue={(v) => labels({ side: v })}
          />
          <QuantityField label="Gap" kind="length" value={s.labels.gapMm} units={units} onValue={(v) => labels({ gapMm: v })} />
          <Choice
            label="Turned"
            value={s.labels.turn}
            options={[
              ['upright', 'upright'],
              ['radial', 'away from the scale'],
              ['tangential', 'along the scale'],
            ]}
            onValue={(v) => labels({ turn: v })}
          />
          <Tick label="Plus sign" checked={s.labels.plus} onValue={(v) => labels({ plus: v })} />
          <Choice
            label="In place of numbers"
            wide
            value={s.labels.list.length ? (Object.keys(LISTS).find((k) => LISTS[k]!.join() === s.labels.list.join()) ?? 'own') : ''}
            options={[['', 'the numbers'], ...Object.keys(LISTS).map((k) => [k, k] as const), ['own', 'words of its own']]}
            onValue={(k) => labels({ list: k === '' ? [] : k === 'own' ? (s.labels.list.length ? s.labels.list : ['A']) : [...LISTS[k]!] })}
          />
          {s.labels.list.length > 0 && (
            <TextField label="One a line" wide rows={3} value={s.labels.list.join('\n')} onValue={(v) => labels({ list: v.split('\n') })} />
          )}
          <TextField
            label="No label at (values, with commas)"
            wide
            value={s.labels.skip.join(', ')}
            onValue={(v) =>
              labels({
                skip: v
                  .split(/[,;\s]+/)
                  .filter(Boolean)
                  .map(Number)
                  .filter(Number.isFinite),
              })
            }
          />
        </div>
      </Fold>
      <FaceFields inscription={s} fonts={fonts} set={set} />
      <Fold title="Calibrated table" brief={s.table.length ? `${s.table.length} values` : ''}>
        <p className="why">A gauge that is not evenly divided: a CSV with the columns value and position. Positions fill the whole span.</p>
        <div className="d-flex gap-2">
          <FileButton size="sm" variant="outline-primary" accept=".csv,text/csv" label="Scale table" onFiles={([f]) => void readCsv(f!)}>
            Read a CSV
          </FileButton>
          {s.table.length > 0 && (
            <Button size="sm" variant="outline-secondary" onClick={() => set({ table: [] })}>
              Divide evenly
            </Button>
          )}
        </div>
        {note && (
          <p className="why" role="status">
            {note}
          </p>
        )}
      </Fold>
    </>
  );
}
