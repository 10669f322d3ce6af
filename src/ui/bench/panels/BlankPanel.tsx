'use client';

import { takeHeights } from '../../../core/job/heights';
import { Choice } from '../../common/fields';
import { getTitle } from '../../../core/job/title';
import { getLengthMm, getWidthMm, type Zero } from '../../../core/job/zero';
import { listZeroWords } from '../../../core/machine/zeroText';
import { describeTurn, getHead, getRotary, getTable, withRotary, withWrappedAxis } from '../../../core/machine/layouts/edit';
import { getLayout } from '../../../core/machine/layouts/registry';
import Form from 'react-bootstrap/Form';
import { convertBlank } from '../../../core/job/defaults';
import { BLANK_NAMES, getMount } from '../../../core/job/blankText';
import { isRoundBlank, type Blank, type BlankKind, type Job, type Machine } from '../../../core/job/schema';
import { formatDeg } from '../../common/format';
import { RadioRow } from '../../common/RadioRow';
import { QuantityField } from '../../common/QuantityField';
import { useBench, useJob, useView } from '../../state/benchStore';
import { BlankDrawing } from '../BlankDrawing';
import { ArchedForm, ConeForm, CylinderForm, PlateForm } from './blank/forms';
import { MeasuredSection } from './measured/MeasuredSection';
import { FreeForm } from './blank/FreeForm';
import { KeyFigures } from './blank/KeyFigures';
import { ProfileForm } from './blank/ProfileForm';

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
export function BlankPanel({ machines }: { machines: readonly Machine[] }) {
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
      <MeasuredSection />
    </>
  );
}

/** What each way of zeroing means, and when it may be used. */
function ZeroFields({ blank, put }: { blank: Blank; put(name: string, next: Blank): string | null }) {
  const choices: readonly [string, string, string][] = isRoundBlank(blank)
    ? [
        ['axis', 'Z zero on the axis of rotation', 'The axis stays where it is however the blank turns: safe for any blank.'],
        [
          'surface',
          blank.kind === 'cylinder' ? 'Z zero on the surface' : 'Z zero on the largest diameter',
          'Only a truly round blank may be zeroed on its surface: where it runs out of round, the depth is off by as much.',
        ],
      ]
    : blank.kind === 'free'
      ? ([
          ['surface', 'Z zero on the picked place', 'Touch off where the marker stands.'],
          ...(blank.mount === 'rotary' ? [['axis', 'Z zero on the axis of rotation', 'Safe however the piece turns.'] as const] : []),
        ] as [string, string, string][])
      : blank.kind === 'arched' && blank.mount === 'rotary'
        ? [
            ['axis', 'Z zero on the axis of rotation', 'Safe however the piece turns.'],
            ['surface', 'Z zero on the crown', 'Touch off on the middle line.'],
          ]
        : [
            [
              'surface',
              'Z zero on the face',
              blank.kind === 'plate' && blank.inclineDeg !== 0
                ? 'Touch off on the middle of the datum edge: an inclined face is nowhere else as high.'
                : 'Touch off on the middle of the datum edge.',
            ],
            ['table', 'Z zero on the table', 'The thickness then counts: measure it.'],
          ];
  const zero: string = blank.zero;
  return (
    <>
      <h3>Zero</h3>
      {choices.map(([value, label]) => (
        <Form.Check
          key={value}
          type="radio"
          id={`zero-${value}`}
          label={label}
          checked={zero === value}
          onChange={() => put('zero', { ...blank, zero: value } as Blank)}
        />
      ))}
      <p className="why">{choices.find(([value]) => value === zero)?.[2]}</p>
      <WordZeros blank={blank} />
    </>
  );
}

const ALONG = {
  datum: ['the datum end', 'Touch the face of the chuck, or the end that it holds.'],
  middle: ['the middle of its length', 'Good where both ends are rough or held: measure the length, and halve it.'],
  far: ['the far end', 'Good where the datum end is in the chuck: touch the free face.'],
} as const;
const ALONG_LYING = {
  datum: ['the datum edge', 'An edge is quickly touched, and clamps are near it: mind the first rapid.'],
  middle: ['the middle of its length', 'Clear of all clamps: measure the length, and halve it.'],
  far: ['the far edge', 'An edge is quickly touched, and clamps are near it: mind the first rapid.'],
} as const;
const ACROSS = {
  low: ['the lower edge', 'With an edge along that makes a corner, the surest place to come back to.'],
  middle: ['the middle', 'A board that bows is highest in its middle: touch Z there too.'],
  high: ['the upper edge', 'With an edge along that makes a corner, the surest place to come back to.'],
} as const;

/** Where the words along, across and of the rotary are 0. */
function WordZeros({ blank }: { blank: Blank }) {
  const bench = useBench();
  const job = useJob();
  const { machine, zero, inscriptions, units } = job;
  const put = (patch: Partial<Zero>) => bench.edit(`zero ${Object.keys(patch).join()}`, (j) => ({ ...j, zero: { ...j.zero, ...patch } }));
  const layout = getLayout(machine.layout);
  const along = layout.along(machine.layout, getMount(blank));
  const rotary = getMount(blank) === 'rotary' ? layout.turning(machine.layout) : null;
  const alongs = getMount(blank) === 'rotary' ? ALONG : ALONG_LYING;
  const seam = 'seamDeg' in blank ? blank.seamDeg : null;
  const turns: [label: string, deg: number][] = [
    ['at turn 0', 0],
    ...(seam === null ? [] : [['at the seam', seam] as [string, number]]),
    ...inscriptions.slice(0, MOST_PLACES).map((i) => [`at "${getTitle(i)}"`, i.at.turnDeg] as [string, number]),
  ];
  return (
    <>
      <div className="fields">
        {getLengthMm(blank) !== null && (
          <Choice label={`${along} zero at`} value={zero.along} options={toOptions(alongs)} onValue={(v) => put({ along: v })} />
        )}
        {getWidthMm(blank) !== null && (
          <Choice
            label={`${along === 'X' ? 'Y' : 'X'} zero at`}
            value={zero.across}
            options={toOptions(ACROSS)}
            onValue={(v) => put({ across: v })}
          />
        )}
        {rotary && (
          <>
            <QuantityField
              label={`${rotary.letter} zero at turn`}
              kind="angle"
              value={zero.turnDeg}
              units={units}
              onValue={(turnDeg) => put({ turnDeg })}
            />
            <Choice
              label="or where"
              value={String(turns.findIndex(([, deg]) => deg === zero.turnDeg))}
              options={[
                ...(turns.some(([, deg]) => deg === zero.turnDeg) ? [] : [['-1', 'at a mark'] as const]),
                ...turns.map(([label], k) => [String(k), label] as const),
              ]}
              onValue={(k) => put({ turnDeg: turns[Number(k)]![1] })}
            />
          </>
        )}
      </div>
      {getTable(machine.layout) && <CentreFields round={rotary !== null} />}
      <p className="why">
        {listZeroWords(job)
          .map(({ letter, where }) => `${letter} is zero ${where}`)
          .join('; ')}
        . {getLengthMm(blank) !== null && alongs[zero.along][1]} {getWidthMm(blank) !== null && ACROSS[zero.across][1]}
      </p>
    </>
  );
}

/** Where the axes of a table that tilts meet, from the zero. */
function CentreFields({ round }: { round: boolean }) {
  const bench = useBench();
  const { zero, units, machine } = useJob();
  const centre = zero.centreMm ?? { xMm: 0, yMm: 0, zMm: 0 };
  const put = (patch: Partial<typeof centre>) =>
    bench.edit(`zero ${Object.keys(patch).join()}`, (j) => ({ ...j, zero: { ...j.zero, centreMm: { ...centre, ...patch } } }));
  const fields = round ? (['zMm'] as const) : (['xMm', 'yMm', 'zMm'] as const);
  return (
    <>
      <div className="fields">
        {fields.map((key) => (
          <QuantityField
            key={key}
            label={`Axes meet at ${key[0]!.toUpperCase()}`}
            kind="length"
            value={centre[key]}
            units={units}
            onValue={(mm) => put({ [key]: mm })}
          />
        ))}
      </div>
      <p className="why">
        {zero.centreMm === null ? 'Not measured yet. ' : ''}
        Where the axes of the table meet, or its own is as high as the tilt’s, as the words read it from this zero with the table level: the
        control’s own offset of the table, less the zero of the work
        {round ? '. A round blank stands on the axis of the table, so that Z alone counts' : ''}.
        {machine.dialect === 'tool-point' ? ' This machine’s control knows it by itself: here it is for limits, times and collisions.' : ''}
      </p>
    </>
  );
}

/** Inscriptions that are offered as a place of the rotary's zero. */
const MOST_PLACES = 12;

/** Choices with what each is good for, as a field shows them. */
const toOptions = <T extends string>(choices: Readonly<Record<T, readonly [name: string, why: string]>>): (readonly [T, string])[] =>
  (Object.keys(choices) as T[]).map((key) => [key, choices[key][0]] as const);

/** How the tool stands where something tilts. */
function TiltFields() {
  const bench = useBench();
  const { motion, units } = useJob();
  const put = (patch: Partial<Job['motion']>) =>
    bench.edit(`motion ${Object.keys(patch).join()}`, (j) => ({ ...j, motion: { ...j.motion, ...patch } }));
  const most = motion.mostTiltDeg;
  return (
    <>
      <QuantityField label="Tool leads by" kind="angle" value={motion.leadDeg} units={units} onValue={(leadDeg) => put({ leadDeg })} />
      <QuantityField
        label="Tilted at most"
        kind="angle"
        value={most ?? 180}
        units={units}
        onValue={(v) => put({ mostTiltDeg: v >= 180 ? null : v })}
      />
      <p className="why wide">
        {motion.leadDeg === 0 ? 'The tool stands along the normal of the surface' : 'The tool leans from the normal towards the far end'}
        {most === null
          ? ', as far as the machine can tilt.'
          : `, tilted by no more than ${formatDeg(most)}, and as near to it as that allows.`}
      </p>
    </>
  );
}

function OnMachine({ blank, machines }: { blank: Blank; machines: readonly Machine[] }) {
  const bench = useBench();
  const { machine, units } = useJob();
  const setMachine = (patch: Partial<Machine>) =>
    bench.edit(`machine ${Object.keys(patch).join()}`, (j) => ({ ...j, machine: { ...j.machine, ...patch } }));
  const change = (name: string, to: (m: Machine) => Machine) => bench.edit(`machine ${name}`, (j) => ({ ...j, machine: to(j.machine) }));
  const { wrappedAxis } = machine.layout;
  const rotary = getMount(blank) === 'rotary' ? getRotary(machine.layout) : null;
  const turns = rotary !== null;
  const head = getHead(machine.layout);
  const table = getTable(machine.layout);
  return (
    <>
      <h3>On the machine</h3>
      <div className="fields">
        <Form.Group controlId="machine" className="wide">
          <Form.Label>Machine</Form.Label>
          <Form.Select
            size="sm"
            value={machine.id}
            onChange={(e) => {
              const found = machines.find((m) => m.id === e.target.value);
              if (found) bench.edit('machine', (j) => ({ ...j, machine: found, motion: { ...j.motion, ...takeHeights(j, found) } }));
            }}
          >
            {!machines.some((m) => m.id === machine.id) && <option value={machine.id}>{machine.name} (from this job)</option>}
            {machines.map((m) => (
              <option key={m.id} value={m.id}>
                {m.name}
              </option>
            ))}
          </Form.Select>
          <p className="why">
            {table
              ? getMount(blank) === 'rotary'
                ? 'The blank stands on the table, its datum end down; the table turns and tilts it under the tool'
                : 'The blank lies on the table, which tilts and turns it under the tool'
              : turns
                ? 'The rotary turns the blank'
                : 'The blank lies still on the table'}
            {table
              ? ', which stands upright.'
              : head
                ? `, and the head tilts the tool from ${formatDeg(head.minDeg)} to ${formatDeg(head.maxDeg)}.`
                : turns
                  ? '; the tool stands towards the axis.'
                  : '; the tool stands upright.'}
          </p>
        </Form.Group>
        <Form.Group controlId="wrapped">
          <Form.Label>{turns ? 'Rotary takes the place of' : 'The blank lies along'}</Form.Label>
          <Form.Select
            size="sm"
            value={wrappedAxis}
            onChange={(e) => change('wrapped', (m) => withWrappedAxis(m, e.target.value as 'X' | 'Y'))}
          >
            <option value="Y">{turns ? 'Y (blank along X)' : 'X'}</option>
            <option value="X">{turns ? 'X (blank along Y)' : 'Y'}</option>
          </Form.Select>
        </Form.Group>
        {rotary && (
          <>
            <Form.Group controlId="letter">
              <Form.Label>Its letter</Form.Label>
              <Form.Select
                size="sm"
                value={rotary.letter}
                onChange={(e) => change('letter', (m) => withRotary(m, { letter: e.target.value as 'A' | 'B' | 'C' }))}
              >
                {['A', 'B', 'C']
                  .filter((l) => l !== head?.letter)
                  .map((l) => (
                    <option key={l}>{l}</option>
                  ))}
              </Form.Select>
            </Form.Group>
            <Form.Group controlId="sense" className="wide">
              <Form.Label>Sense of rotation</Form.Label>
              <Form.Select
                size="sm"
                value={rotary.sense}
                onChange={(e) => change('sense', (m) => withRotary(m, { sense: Number(e.target.value) === 1 ? 1 : -1 }))}
              >
                <option value={1}>+ brings the top {describeTurn(machine.layout.wrappedAxis, 1)} (right-handed)</option>
                <option value={-1}>+ brings the top {describeTurn(machine.layout.wrappedAxis, -1)}</option>
              </Form.Select>
              <p className="why">
                A wrong sense engraves a mirror image. Stand where X runs to your right and Y away from you, jog the rotary by +10° and see
                where the top of the blank goes: that is its sense.
              </p>
            </Form.Group>
          </>
        )}
        <Form.Group controlId="feed-mode">
          <Form.Label>Feed words</Form.Label>
          <Form.Select size="sm" value={machine.feedMode} onChange={(e) => setMachine({ feedMode: e.target.value as 'G93' | 'G94' })}>
            <option value="G93">G93, inverse time</option>
            <option value="G94">G94, compensated</option>
          </Form.Select>
        </Form.Group>
        {rotary && (
          <QuantityField
            label="Rotary at most, °/min"
            kind="number"
            value={rotary.maxDegPerMin}
            units={units}
            onValue={(v) => change('turn', (m) => withRotary(m, { maxDegPerMin: v }))}
          />
        )}
        {(head ?? table) && <TiltFields />}
      </div>
    </>
  );
}
