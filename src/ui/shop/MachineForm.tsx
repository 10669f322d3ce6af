import type { ReactNode } from 'react';
import { FRESH_AXES } from '../../core/job/defaults';
import { NAME_PLACEHOLDERS, PLACEHOLDERS } from '../../core/job/machineSchema';
import type { LayoutKind, Machine } from '../../core/job/schema';
import {
  describeTableTurn,
  describeTilt,
  describeTurn,
  getHead,
  getRotary,
  getTable,
  withHead,
  withLayoutKind,
  withRotary,
  withTable,
  withWrappedAxis,
  type Head,
  type Rotary,
  type TableTable,
} from '../../core/machine/layouts/edit';
import { LAYOUTS } from '../../core/machine/layouts/registry';
import { DIALECTS } from '../../core/program/registry';
import { Button } from '../common/Button';
import { Choice, Tick } from '../common/fields';
import { NameField } from '../common/NameField';
import { QuantityField } from '../common/QuantityField';
import { MachinePicture } from './MachinePicture';

type Figure = readonly [keyof Machine & string, string, 'number' | 'feed' | 'length'];

const SPEEDS: readonly Figure[] = [
  ['maxFeedMmPerMin', 'Feed at most', 'feed'],
  ['rapidMmPerMin', 'Rapid', 'feed'],
  ['accelerationMmPerS2', 'Acceleration, mm/s²', 'number'],
  ['maxSpindleRpm', 'Spindle at most, rev/min', 'number'],
  ['spindleRunUpS', 'Spindle run-up, s', 'number'],
  ['toolChangeS', 'Change of cutter, s', 'number'],
];
const DIGITS: readonly Figure[] = [
  ['lengthDigits', 'Decimals of lengths', 'number'],
  ['angleDigits', 'Decimals of angles', 'number'],
  ['maxBlocksPerS', 'Blocks a second', 'number'],
  ['mostLines', 'Lines a file at most; 0: any', 'number'],
  ['longestLine', 'Characters a line; 0: any', 'number'],
  ['mergeMm', 'Blocks merged within', 'length'],
  ['chordToleranceMm', 'Chord tolerance', 'length'],
  ['cornerToleranceMm', 'Corners rounded by (0: none)', 'length'],
  ['arcMm', 'Arcs (G2, G3) within; 0: none', 'length'],
];
const HEIGHTS = [
  ['parkHeightMm', 'Waits above the blank at'],
  ['hopHeightMm', 'Hops at'],
  ['approachGapMm', 'Rapid down to, above the surface'],
] as const;
const LAYOUT_NAMES: Record<LayoutKind, string> = {
  table: 'a plain table, nothing turns',
  rotary: 'a rotary that turns the blank',
  'rotary-tilting-head': 'a rotary, and a head that tilts the tool',
  'table-table': 'a table that tilts and turns',
};

interface FormProps {
  machine: Machine;
  /** Changes it; says why if that is refused. */
  set(change: Partial<Machine>): string | null;
}

/** The settings of one machine: how it is built, what it can do, what its control reads, what it says of its own. */
export function MachineForm({ machine, set }: FormProps) {
  return (
    <div className="machine-form">
      <div>
        <Section title="How it is built">
          <NameField label="Name" style={{ gridColumn: 'span 2' }} value={machine.name} onValue={(name) => set({ name })} />
          <LayoutFields machine={machine} set={set} />
        </Section>
        <Section title="How far and how fast">
          {(['X', 'Y', 'Z'] as const).map((letter) => (
            <QuantityField
              key={letter}
              label={`${letter} can go (0: ?)`}
              kind="length"
              value={machine.travelMm[letter]}
              units="mm"
              onValue={(mm) => set({ travelMm: { ...machine.travelMm, [letter]: mm } })}
            />
          ))}
          <StandsAt machine={machine} set={set} />
          <Figures of={SPEEDS} machine={machine} set={set} />
          <TurningSpeeds machine={machine} set={set} />
        </Section>
        <Section title="Heights of a new job on it">
          {HEIGHTS.map(([key, label]) => (
            <QuantityField
              key={key}
              label={label}
              kind="length"
              value={machine.heights[key]}
              units="mm"
              onValue={(mm) => set({ heights: { ...machine.heights, [key]: mm } })}
            />
          ))}
        </Section>
        <Section title="What its control reads">
          <ControlFields machine={machine} set={set} />
          <Figures of={DIGITS} machine={machine} set={set} />
        </Section>
        <OwnBlocks machine={machine} set={set} />
      </div>
      <MachinePicture machine={machine} set={set} />
    </div>
  );
}

function Section({ title, children }: { title: string; children: ReactNode }) {
  return (
    <fieldset className="mb-3">
      <legend className="h6">{title}</legend>
      <div className="machine-fields">{children}</div>
    </fieldset>
  );
}

function Figures({ of, machine, set }: FormProps & { of: readonly Figure[] }) {
  return of.map(([key, label, kind]) => (
    <QuantityField
      key={key}
      label={label}
      kind={kind}
      value={machine[key] as number}
      units="mm"
      onValue={(v) => set({ [key]: v } as Partial<Machine>)}
    />
  ));
}

const LETTERS = ['A', 'B', 'C'] as const;
const toOption = (letter: (typeof LETTERS)[number]) => [letter, letter] as const;

function LayoutFields({ machine, set }: FormProps) {
  const { layout } = machine;
  const rotary = getRotary(layout);
  const head = getHead(layout);
  const setRotary = (patch: Partial<Rotary>) => set(withRotary(machine, patch));
  return (
    <>
      <Choice
        label="It has"
        wide
        value={layout.kind}
        options={(Object.keys(LAYOUTS) as LayoutKind[]).map((kind) => [kind, LAYOUT_NAMES[kind]] as const)}
        onValue={(kind) => set(withLayoutKind(machine, kind, FRESH_AXES))}
      />
      <Choice
        label={rotary ? 'Rotary takes the place of' : 'The blank lies along'}
        value={layout.wrappedAxis}
        options={[
          ['Y', rotary ? 'Y (blank along X)' : 'X'],
          ['X', rotary ? 'X (blank along Y)' : 'Y'],
        ]}
        onValue={(axis) => set(withWrappedAxis(machine, axis))}
      />
      {rotary && (
        <>
          <Choice
            label="Its letter"
            value={rotary.letter}
            options={LETTERS.filter((l) => l !== head?.letter).map(toOption)}
            onValue={(letter) => setRotary({ letter })}
          />
          <Choice
            label="Sense of rotation"
            wide
            value={rotary.sense > 0 ? '1' : '-1'}
            options={[
              ['1', `+ brings the top ${describeTurn(layout.wrappedAxis, 1)}`],
              ['-1', `+ brings the top ${describeTurn(layout.wrappedAxis, -1)}`],
            ]}
            onValue={(sense) => setRotary({ sense: sense === '1' ? 1 : -1 })}
          />
          <QuantityField
            label="Chuck (0: not known)"
            kind="length"
            value={rotary.chuckMm}
            units="mm"
            onValue={(chuckMm) => setRotary({ chuckMm })}
          />
          <QuantityField
            label="Tailstock (0: none)"
            kind="length"
            value={rotary.tailstockMm}
            units="mm"
            onValue={(tailstockMm) => setRotary({ tailstockMm })}
          />
          <RangeFields range={rotary.range} put={(range) => setRotary({ range })} />
        </>
      )}
      {layout.kind === 'table-table' && <TableFields machine={machine} table={layout} set={set} />}
      {head && rotary && <HeadFields machine={machine} head={head} rotary={rotary} set={set} />}
    </>
  );
}

/** How far what turns may go. */
function RangeFields({ range, put }: { range: Rotary['range']; put(range: Rotary['range']): string | null }) {
  return (
    <>
      <Choice
        label="It goes round"
        value={range ? 'limited' : 'endless'}
        options={[
          ['endless', 'without end'],
          ['limited', 'between limits'],
        ]}
        onValue={(v) => put(v === 'endless' ? null : { minDeg: -360, maxDeg: 360 })}
      />
      {range && (
        <>
          <QuantityField label="from" kind="angle" value={range.minDeg} units="mm" onValue={(minDeg) => put({ ...range, minDeg })} />
          <QuantityField label="to" kind="angle" value={range.maxDeg} units="mm" onValue={(maxDeg) => put({ ...range, maxDeg })} />
        </>
      )}
    </>
  );
}

/** The table that tilts and turns. */
function TableFields({ machine, table, set }: FormProps & { table: TableTable }) {
  const { tilt, turn } = table;
  const put = (patch: Partial<TableTable>) => set(withTable(machine, patch));
  const senses = (describe: (sense: 1 | -1) => string): (readonly ['1' | '-1', string])[] => [
    ['1', `+: ${describe(1)}`],
    ['-1', `+: ${describe(-1)}`],
  ];
  const toSense = (v: '1' | '-1'): 1 | -1 => (v === '1' ? 1 : -1);
  return (
    <>
      <Choice
        label="It tilts about"
        value={tilt.letter}
        options={[
          ['A', 'X (letter A)'],
          ['B', 'Y (letter B)'],
        ]}
        onValue={(letter) => put({ tilt: { ...tilt, letter } })}
      />
      <Choice
        label="Sense of the tilt"
        wide
        value={tilt.sense > 0 ? '1' : '-1'}
        options={senses((sense) => describeTilt({ letter: tilt.letter, sense }))}
        onValue={(v) => put({ tilt: { ...tilt, sense: toSense(v) } })}
      />
      <QuantityField
        label="Tilts from"
        kind="angle"
        value={tilt.minDeg}
        units="mm"
        onValue={(v) => put({ tilt: { ...tilt, minDeg: v } })}
      />
      <QuantityField label="to" kind="angle" value={tilt.maxDeg} units="mm" onValue={(v) => put({ tilt: { ...tilt, maxDeg: v } })} />
      <Choice
        label="Sense of the turn (C)"
        wide
        value={turn.sense > 0 ? '1' : '-1'}
        options={senses((sense) => describeTableTurn({ sense }))}
        onValue={(v) => put({ turn: { ...turn, sense: toSense(v) } })}
      />
      <RangeFields range={turn.range} put={(range) => put({ turn: { ...turn, range } })} />
      <QuantityField label="Table (0: not known)" kind="length" value={table.tableMm} units="mm" onValue={(tableMm) => put({ tableMm })} />
      <QuantityField
        label="Its face over the tilt’s axis"
        kind="length"
        value={table.faceMm}
        units="mm"
        onValue={(faceMm) => put({ faceMm })}
      />
      <QuantityField
        label="Chuck on it (0: not known)"
        kind="length"
        value={turn.chuckMm}
        units="mm"
        onValue={(chuckMm) => put({ turn: { ...turn, chuckMm } })}
      />
    </>
  );
}

/** Where the axis that turns stands in the travel, how high the spindle gets over it, and what clamps a blank that lies. */
function StandsAt({ machine, set }: FormProps) {
  const { standsAt, clamps, layout } = machine;
  const what = getTable(layout) ? 'Table’s centre' : getRotary(layout) ? 'Rotary’s axis' : null;
  const put = (patch: Partial<Machine['standsAt']>) => set({ standsAt: { ...standsAt, ...patch } });
  const wanted = what === null ? [] : getTable(layout) ? (['X', 'Y'] as const) : [layout.wrappedAxis];
  return (
    <>
      {wanted.map((letter) => {
        const key = letter === 'X' ? 'xMm' : 'yMm';
        return (
          <QuantityField
            key={letter}
            label={`${what} in ${letter}, from its low end (0: ?)`}
            kind="length"
            value={standsAt[key] ?? 0}
            units="mm"
            onValue={(mm) => put({ [key]: mm === 0 ? null : mm })}
          />
        );
      })}
      <QuantityField
        label={`Spindle’s nose over ${what ? 'that axis' : 'the table'} at the top (0: ?)`}
        kind="length"
        value={standsAt.noseMm}
        units="mm"
        onValue={(noseMm) => put({ noseMm })}
      />
      <QuantityField
        label="Clamps over a lying blank (0: none)"
        kind="length"
        value={clamps.highMm}
        units="mm"
        onValue={(highMm) => set({ clamps: { ...clamps, highMm } })}
      />
      <QuantityField
        label="They reach in from its ends"
        kind="length"
        value={clamps.reachMm}
        units="mm"
        onValue={(reachMm) => set({ clamps: { ...clamps, reachMm } })}
      />
    </>
  );
}

/** The head that tilts. */
function HeadFields({ machine, head, rotary, set }: FormProps & { head: Head; rotary: Rotary }) {
  const put = (patch: Partial<Head>) => set(withHead(machine, patch));
  return (
    <>
      <Choice
        label="The head’s letter"
        value={head.letter}
        options={LETTERS.filter((l) => l !== rotary.letter).map(toOption)}
        onValue={(letter) => put({ letter })}
      />
      <Choice
        label="Its + leans the tool"
        value={head.sense > 0 ? '1' : '-1'}
        options={[
          ['1', 'to the blank’s far end'],
          ['-1', 'to its datum end'],
        ]}
        onValue={(sense) => put({ sense: sense === '1' ? 1 : -1 })}
      />
      <QuantityField label="From" kind="angle" value={head.minDeg} units="mm" onValue={(v) => put({ minDeg: v })} />
      <QuantityField label="To" kind="angle" value={head.maxDeg} units="mm" onValue={(v) => put({ maxDeg: v })} />
      <QuantityField
        label="Tilt axis to tip (0: control keeps the tip)"
        kind="length"
        value={head.pivotMm}
        units="mm"
        onValue={(v) => put({ pivotMm: v })}
      />
    </>
  );
}

function TurningSpeeds({ machine, set }: FormProps) {
  const rotary = getRotary(machine.layout);
  const head = getHead(machine.layout);
  const table = getTable(machine.layout);
  return (
    <>
      {rotary && (
        <>
          <QuantityField
            label="Rotary at most, °/min"
            kind="number"
            value={rotary.maxDegPerMin}
            units="mm"
            onValue={(maxDegPerMin) => set(withRotary(machine, { maxDegPerMin }))}
          />
          <QuantityField
            label="Rotary acceleration, °/s²"
            kind="number"
            value={rotary.accelerationDegPerS2}
            units="mm"
            onValue={(accelerationDegPerS2) => set(withRotary(machine, { accelerationDegPerS2 }))}
          />
        </>
      )}
      {table && (
        <>
          {(['tilt', 'turn'] as const).flatMap((which) => [
            <QuantityField
              key={which}
              label={`${table[which].letter} at most, °/min`}
              kind="number"
              value={table[which].maxDegPerMin}
              units="mm"
              onValue={(maxDegPerMin) => set(withTable(machine, { [which]: { ...table[which], maxDegPerMin } }))}
            />,
            <QuantityField
              key={`${which} acceleration`}
              label={`${table[which].letter} acceleration, °/s²`}
              kind="number"
              value={table[which].accelerationDegPerS2}
              units="mm"
              onValue={(accelerationDegPerS2) => set(withTable(machine, { [which]: { ...table[which], accelerationDegPerS2 } }))}
            />,
          ])}
        </>
      )}
      {head && (
        <QuantityField
          label="Tilt at most, °/min"
          kind="number"
          value={head.maxDegPerMin}
          units="mm"
          onValue={(maxDegPerMin) => set(withHead(machine, { maxDegPerMin }))}
        />
      )}
    </>
  );
}

function ControlFields({ machine, set }: FormProps) {
  return (
    <>
      <Choice
        label="Its words"
        value={machine.dialect}
        options={(Object.keys(DIALECTS) as Machine['dialect'][]).map((key) => [key, DIALECTS[key].name] as const)}
        onValue={(dialect) => set({ dialect })}
      />
      <Choice
        label="Programs in"
        value={machine.programUnit}
        options={[
          ['mm', 'millimetres'],
          ['in', 'inches'],
        ]}
        onValue={(programUnit) => set({ programUnit })}
      />
      <Choice
        label="Programs go out as"
        value={machine.files}
        options={[
          ['one', 'one file'],
          ['per-cutter', 'one file for each cutter'],
          ['per-cut', 'one file for each cut'],
        ]}
        onValue={(files) => set({ files })}
      />
      <Choice
        label="Feed words"
        value={machine.feedMode}
        options={[
          ['G93', 'G93, inverse time'],
          ['G94', 'G94, compensated'],
        ]}
        onValue={(feedMode) => set({ feedMode })}
      />
      <Choice
        label="Lengths of cutters"
        value={machine.toolLengths}
        options={[
          ['table', 'called from its table (G43)'],
          ['control', 'kept by the control'],
        ]}
        onValue={(toolLengths) => set({ toolLengths })}
      />
      <Choice
        label="At the cutter"
        value={machine.coolant}
        options={[
          ['none', 'nothing'],
          ['mist', 'mist (M7)'],
          ['flood', 'flood (M8)'],
        ]}
        onValue={(coolant) => set({ coolant })}
      />
      <NameField label="Its files are called" value={machine.fileName} onValue={(fileName) => set({ fileName })} />
      <Tick label="Tool changer" checked={machine.toolChanger} onValue={(toolChanger) => set({ toolChanger })} />
    </>
  );
}

/** Blocks of the machine's own, in place of Hobel's or beside them. */
function OwnBlocks({ machine, set }: FormProps) {
  const { ownBlocks } = machine;
  const put = (patch: Partial<Machine['ownBlocks']>) => set({ ownBlocks: { ...ownBlocks, ...patch } });
  return (
    <fieldset className="mb-3">
      <legend className="h6">Blocks of its own</legend>
      <div className="own-blocks">
        <NameField label="After the opening" rows={3} value={ownBlocks.start} onValue={(start) => put({ start })} />
        {ownBlocks.change === null ? (
          <div className="align-self-start">
            <div className="form-label">For a change of cutter</div>
            <p className="why mb-1">Hobel’s: {machine.toolChanger ? 'T and M6' : 'a stop (M0) and what to put in'}.</p>
            <Button size="sm" variant="link" className="p-0" onClick={() => put({ change: machine.toolChanger ? 'T{number} M6' : 'M0' })}>
              Write its own
            </Button>
          </div>
        ) : (
          <div>
            <NameField label="For a change of cutter" rows={3} value={ownBlocks.change} onValue={(change) => put({ change })} />
            <Button size="sm" variant="link" className="p-0" onClick={() => put({ change: null })}>
              Leave it to Hobel
            </Button>
          </div>
        )}
        <NameField label="Before the end" rows={3} value={ownBlocks.end} onValue={(end) => put({ end })} />
      </div>
      <p className="why mb-0">
        {Object.entries(PLACEHOLDERS)
          .map(([name, what]) => `{${name}}: ${what}`)
          .join('; ')}
        . They are read back with the program, and what it cannot stand is found. In the name of its files:{' '}
        {Object.entries(NAME_PLACEHOLDERS)
          .map(([name, what]) => `{${name}}: ${what}`)
          .join('; ')}
        .
      </p>
    </fieldset>
  );
}
