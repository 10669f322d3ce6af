'use client';

import { useState } from 'react';
import ProgressBar from 'react-bootstrap/ProgressBar';
import type { Blank, BlankOf } from '../../../../core/job/schema';
import { LARGE_SHAPE_MM, SMALL_SHAPE_MM } from '../../../../core/findings/letteringFindings';
import { findTopPick } from '../../../../core/shape/pick';
import { computeBounds, type HealReport } from '../../../../core/shape/shapeMesh';
import { Button } from '../../../common/Button';
import { FileButton } from '../../../common/FileButton';
import { Choice } from '../../../common/fields';
import { formatCount, formatLength } from '../../../common/format';
import { QuantityField } from '../../../common/QuantityField';
import { useBench, useJobPart, useView } from '../../../state/benchStore';
import { useBlank } from '../../../state/useSurface';

type Free = BlankOf<'free'>;
const UNITS = [
  ['1', 'millimetres'],
  ['10', 'centimetres'],
  ['1000', 'metres'],
  ['25.4', 'inches'],
  ['0.001', 'micrometres'],
] as const;
/** Largest file taken, bytes. */
const MAX_BYTES = 200_000_000;

/** A free shape: its file and units, what was mended, the place that is lettered, and how it lies. */
export function FreeForm({ blank, put }: { blank: Free | null; put(name: string, next: Blank): string | null }) {
  const bench = useBench();
  const units = useJobPart((j) => j.units);
  const { shapes, importShape, stop, progress, failure, surface } = useBlank();
  const picking = useView((v) => v.picking);
  const [refusal, setRefusal] = useState<string | null>(null);
  const mesh = blank ? shapes.find(blank.shape) : null;
  const take = async (file: File) => {
    setRefusal(null);
    if (file.size > MAX_BYTES)
      return setRefusal(
        `${file.name} has ${(file.size / 1e6).toFixed(0)} MB; up to ${MAX_BYTES / 1e6} MB can be read. Export it with a coarser chord tolerance.`,
      );
    const read = await importShape(file);
    if ('text' in read) return setRefusal(read.text);
    const { pick, normal } = findTopPick(read.mesh);
    const next: Free = {
      kind: 'free',
      source: file.name.slice(0, 120),
      shape: { id: read.id },
      unitMm: 1,
      pick,
      normal,
      turnDeg: 0,
      creaseDeg: 30,
      mount: 'table',
      axisBelowMm: 0,
      zero: 'surface',
    };
    // A shape is lettered round its picked place: what stood along another blank begins there anew.
    const refused = bench.edit(bench.nameStep('shape'), (j) => ({
      ...j,
      blank: next,
      lay: j.lay.kind === 'project' ? j.lay : { ...j.lay, kind: 'drape' },
    }));
    if (refused) return setRefusal(refused);
    bench.view.setState({ wantsShape: false });
  };
  const set = (patch: Partial<Free>) => put(Object.keys(patch).join(), { ...blank!, ...patch });
  const bounds = mesh ? computeBounds(mesh) : null;
  const size = bounds && blank ? [0, 1, 2].map((k) => (bounds.max[k]! - bounds.min[k]!) * blank.unitMm) : null;
  return (
    <>
      <div
        className="drop"
        onDragOver={(e) => e.preventDefault()}
        onDrop={(e) => {
          e.preventDefault();
          const file = e.dataTransfer.files[0];
          if (file) void take(file);
        }}
      >
        <FileButton
          size="sm"
          variant="outline-primary"
          accept=".stl,.obj,.stp,.step"
          label="Shape from a file"
          onFiles={([f]) => void take(f!)}
        >
          {blank ? 'Another file…' : 'Choose a file…'}
        </FileButton>{' '}
        STL, OBJ or STEP, or drop it here
      </div>
      {progress !== null && (
        <div className="mb-2" role="status">
          Working on the shape… <ProgressBar now={100 * progress} />
          <Button size="sm" variant="link" className="p-0" onClick={stop}>
            Stop
          </Button>
        </div>
      )}
      {(refusal ?? failure) && (
        <p role="alert" className="text-danger">
          {refusal ?? failure}
        </p>
      )}
      {blank && (
        <>
          <div className="fields">
            <Choice
              label="Its units are"
              value={UNITS.some(([v]) => Number(v) === blank.unitMm) ? (String(blank.unitMm) as '1') : '1'}
              options={UNITS}
              onValue={(v) => set({ unitMm: Number(v) })}
            />
            <QuantityField label="or one unit is" kind="length" value={blank.unitMm} units={units} onValue={(v) => set({ unitMm: v })} />
          </div>
          {size && (
            <p
              className={Math.max(...size) < SMALL_SHAPE_MM || Math.max(...size) > LARGE_SHAPE_MM ? 'text-danger' : 'why figure'}
              data-testid="shape-size"
            >
              {size.map((v) => formatLength(v, units, 2)).join(' × ')} {units}
              {Math.max(...size) < SMALL_SHAPE_MM && ': that is very small. Were inches or metres meant?'}
              {Math.max(...size) > LARGE_SHAPE_MM && ': that is very large. Are its units millimetres?'}
            </p>
          )}
          <h3>Place to letter</h3>
          <div className="d-flex gap-2 mb-1">
            <Button
              size="sm"
              variant={picking ? 'primary' : 'outline-primary'}
              aria-pressed={picking}
              onClick={() => bench.view.setState({ picking: !picking })}
            >
              {picking ? 'Now click on the piece…' : 'Pick on the piece'}
            </Button>
            <Button size="sm" variant="outline-primary" disabled={!mesh} onClick={() => mesh && set(findTopPick(mesh))}>
              Top middle
            </Button>
          </div>
          <div className="fields">
            <QuantityField
              label="Lettering turned by"
              kind="angle"
              value={blank.turnDeg}
              units={units}
              onValue={(v) => set({ turnDeg: v })}
            />
            <QuantityField
              label="Goes on over edges to"
              kind="angle"
              value={blank.creaseDeg}
              units={units}
              onValue={(v) => set({ creaseDeg: v })}
            />
            <Choice
              label="Held"
              value={blank.mount}
              options={[
                ['table', 'on the table'],
                ['rotary', 'on the rotary'],
              ]}
              onValue={(mount) => set({ mount, zero: 'surface' })}
            />
            {blank.mount === 'rotary' && (
              <QuantityField
                label="Rotary axis below it"
                kind="length"
                value={blank.axisBelowMm}
                units={units}
                onValue={(v) => set({ axisBelowMm: v })}
              />
            )}
          </div>
          <p className="why">
            The picked place is x = 0, y = 0, with its normal towards the tool. What hangs together with it over edges that bend by less is
            the patch that is lettered{surface.outline ? '' : '; nothing of it is seen yet'}.
          </p>
          {mesh && <Healing report={mesh.report} />}
        </>
      )}
    </>
  );
}

/** What was found in the file and what was mended. */
function Healing({ report: r }: { report: HealReport }) {
  const rows: [string, number, string][] = [
    ['Triangles', r.triangles, ''],
    ['Parts', r.parts, r.parts > 1 ? 'they do not hang together' : ''],
    ['Without area, left out', r.degenerate, ''],
    ['Standing twice, left out', r.duplicates, ''],
    ['Turned the right way round', r.flipped, ''],
    ['Open edges', r.openEdges, r.openEdges ? 'the shape has holes' : ''],
    ['Edges of three faces or more', r.crowdedEdges, r.crowdedEdges ? 'no solid has those' : ''],
  ];
  return (
    <>
      <h3>The shape</h3>
      <table className="figures" data-testid="healing">
        <tbody>
          {rows
            .filter(([name, n]) => n > 0 || name === 'Open edges')
            .map(([name, n, why]) => (
              <tr key={name}>
                <td>{name}</td>
                <td>
                  {formatCount(n)}
                  {why && <span className="text-danger"> {why}</span>}
                </td>
              </tr>
            ))}
        </tbody>
      </table>
    </>
  );
}
