'use client';

import Form from 'react-bootstrap/Form';
import { convertBlank } from '../../../core/job/defaults';
import { BLANK_NAMES } from '../../../core/job/blankText';
import { type Blank, type BlankKind, type Job, type Machine } from '../../../core/job/schema';
import type { LetteringView } from '../../../workers/planning.client';
import { RadioRow } from '../../common/RadioRow';
import { useBench, useJob, useView } from '../../state/benchStore';
import { BlankDrawing } from '../BlankDrawing';
import { ArchedForm, ConeForm, CylinderForm, PlateForm } from './blank/forms';
import { MeasuredSection } from './measured/MeasuredSection';
import { FreeForm } from './blank/FreeForm';
import { KeyFigures } from './blank/KeyFigures';
import { OnMachine } from './blank/OnMachine';
import { ProfileForm } from './blank/ProfileForm';
import { ZeroFields } from './blank/ZeroFields';

const MATERIAL_NAMES: Record<Job['material'], string> = {
  brass: 'Brass',
  bronze: 'Bronze',
  steel: 'Steel',
  aluminium: 'Aluminium',
  slate: 'Slate',
  maple: 'Maple',
  acrylic: 'Acrylic',
};

/** The kinds in the order of how often they lie on the bench, with a sketch and a short name each. */
const KINDS: readonly [BlankKind, string, string][] = [
  ['cylinder', 'M3 6h18v12H3z', 'Cylinder'],
  ['cone', 'M3 9l18-5v16l-18-5z', 'Cone'],
  ['turned', 'M3 8c6-5 12-5 18 0v8c-6 5-12 5-18 0z', 'Turned'],
  ['plate', 'M2 15l6-7h14l-6 7zM2 15v2h14v-2M16 17l6-7v-2', 'Plate'],
  ['arched', 'M3 17c3-9 15-9 18 0l-2 1c-3-6-11-6-14 0z', 'Arched'],
  ['free', 'M4 15c0-8 4-4 7-8s9-1 9 5-3 3-6 6-10 3-10-3z', 'Free'],
];

/** The piece of stock, and how it sits on the machine. */
export function BlankPanel({ machines, lettering }: { machines: readonly Machine[]; lettering: LetteringView | null }) {
  const bench = useBench();
  const job = useJob();
  const { blank, units } = job;
  const put = (name: string, next: Blank) => bench.edit(`blank ${name}`, (j) => ({ ...j, blank: next }));
  const choose = (kind: BlankKind) => {
    if (kind === blank.kind) return;
    // A free shape comes from a file: its form asks for it.
    if (kind === 'free') bench.view.setState({ wantsShape: true });
    else {
      bench.view.setState({ wantsShape: false });
      put(bench.nameStep('kind'), convertBlank(blank, kind));
    }
  };
  const wantsShape = useView((v) => v.wantsShape) && blank.kind !== 'free';
  const kind = wantsShape ? 'free' : blank.kind;
  return (
    <>
      <h2>Blank: {BLANK_NAMES[kind]}</h2>
      <RadioRow
        className="kinds"
        label="Kind of blank"
        value={kind}
        options={KINDS.map(([k, d, short]) => ({
          value: k,
          name: BLANK_NAMES[k],
          title: BLANK_NAMES[k],
          face: (
            <>
              <svg viewBox="0 0 24 24" width={26} height={26} fill="none" stroke="currentColor" strokeWidth={1.4} strokeLinejoin="round">
                <path d={d} />
              </svg>
              <span aria-hidden>{short}</span>
            </>
          ),
        }))}
        onValue={choose}
      />
      {kind === 'free' ? (
        <FreeForm blank={blank.kind === 'free' ? blank : null} put={put} />
      ) : (
        <>
          <BlankDrawing blank={blank} units={units} />
          {blank.kind === 'cylinder' && <CylinderForm blank={blank} put={put} units={units} />}
          {blank.kind === 'cone' && <ConeForm blank={blank} put={put} units={units} />}
          {blank.kind === 'turned' && <ProfileForm blank={blank} put={put} units={units} />}
          {blank.kind === 'plate' && <PlateForm blank={blank} put={put} units={units} />}
          {blank.kind === 'arched' && <ArchedForm blank={blank} put={put} units={units} />}
        </>
      )}
      <div className="fields">
        <Form.Group controlId="material">
          <Form.Label>Material</Form.Label>
          <Form.Select
            size="sm"
            value={job.material}
            onChange={(e) => bench.edit('material', (j) => ({ ...j, material: e.target.value as Job['material'] }))}
          >
            {Object.entries(MATERIAL_NAMES).map(([id, name]) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </Form.Select>
        </Form.Group>
        <Form.Group controlId="units">
          <Form.Label>Figures in</Form.Label>
          <div>
            {(['mm', 'in'] as const).map((u) => (
              <Form.Check
                key={u}
                inline
                type="radio"
                id={`units-${u}`}
                label={u === 'mm' ? 'mm' : 'inches'}
                checked={units === u}
                onChange={() => bench.edit('units', (j) => ({ ...j, units: u }))}
              />
            ))}
          </div>
        </Form.Group>
      </div>
      <KeyFigures blank={blank} units={units} />
      <ZeroFields blank={blank} put={put} />
      <OnMachine blank={blank} machines={machines} />
      <MeasuredSection lettering={lettering} />
    </>
  );
}
