import { FRESH_AXES } from '../../../core/job/defaults';
import type { LayoutKind } from '../../../core/job/schema';
import {
  describeTableTurn,
  describeTilt,
  describeTurn,
  getHead,
  getRotary,
  withHead,
  withLayoutKind,
  withRotary,
  withTable,
  withWrappedAxis,
  type Head,
  type Rotary,
  type TableTable,
} from '../../../core/machine/layouts/edit';
import { LAYOUTS } from '../../../core/machine/layouts/registry';
import { Choice } from '../../common/fields';
import { Quantity, type FormProps } from './parts';

const LAYOUT_NAMES: Record<LayoutKind, string> = {
  table: 'a plain table, nothing turns',
  rotary: 'a rotary that turns the blank',
  'rotary-tilting-head': 'a rotary, and a head that tilts the tool',
  'table-table': 'a table that tilts and turns',
};
const LETTERS = ['A', 'B', 'C'] as const;
const toOption = (letter: (typeof LETTERS)[number]) => [letter, letter] as const;

/** A sense of turning, each said by what it does. */
interface SenseProps {
  label: string;
  wide?: boolean;
  sense: 1 | -1;
  describe(sense: 1 | -1): string;
  put(sense: 1 | -1): string | null;
}

const Sense = ({ label, wide, sense, describe, put }: SenseProps) => (
  <Choice
    label={label}
    wide={wide}
    value={sense > 0 ? '1' : '-1'}
    options={[
      ['1', describe(1)],
      ['-1', describe(-1)],
    ]}
    onValue={(v) => put(v === '1' ? 1 : -1)}
  />
);

/** What moves, about what, and which way. */
export function LayoutFields({ machine, set }: FormProps) {
  const { layout } = machine;
  const rotary = getRotary(layout);
  const head = getHead(layout);
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
      {rotary && <RotaryFields machine={machine} rotary={rotary} set={set} />}
      {layout.kind === 'table-table' && <TableFields machine={machine} table={layout} set={set} />}
      {head && rotary && <HeadFields machine={machine} head={head} rotary={rotary} set={set} />}
    </>
  );
}

/** The rotary along the blank. */
function RotaryFields({ machine, rotary, set }: FormProps & { rotary: Rotary }) {
  const put = (patch: Partial<Rotary>) => set(withRotary(machine, patch));
  const head = getHead(machine.layout);
  return (
    <>
      <Choice
        label="Its letter"
        value={rotary.letter}
        options={LETTERS.filter((l) => l !== head?.letter).map(toOption)}
        onValue={(letter) => put({ letter })}
      />
      <Sense
        label="Sense of rotation"
        wide
        sense={rotary.sense}
        describe={(sense) => `+ brings the top ${describeTurn(machine.layout.wrappedAxis, sense)}`}
        put={(sense) => put({ sense })}
      />
      <Quantity label="Chuck (0: not known)" kind="length" value={rotary.chuckMm} put={(chuckMm) => put({ chuckMm })} />
      <Quantity label="Tailstock (0: none)" kind="length" value={rotary.tailstockMm} put={(tailstockMm) => put({ tailstockMm })} />
      <RangeFields range={rotary.range} put={(range) => put({ range })} />
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
          <Quantity label="from" kind="angle" value={range.minDeg} put={(minDeg) => put({ ...range, minDeg })} />
          <Quantity label="to" kind="angle" value={range.maxDeg} put={(maxDeg) => put({ ...range, maxDeg })} />
        </>
      )}
    </>
  );
}

/** The table that tilts and turns. */
function TableFields({ machine, table, set }: FormProps & { table: TableTable }) {
  const { tilt, turn } = table;
  const put = (patch: Partial<TableTable>) => set(withTable(machine, patch));
  const putTilt = (patch: Partial<TableTable['tilt']>) => put({ tilt: { ...tilt, ...patch } });
  const putTurn = (patch: Partial<TableTable['turn']>) => put({ turn: { ...turn, ...patch } });
  return (
    <>
      <Choice
        label="It tilts about"
        value={tilt.letter}
        options={[
          ['A', 'X (letter A)'],
          ['B', 'Y (letter B)'],
        ]}
        onValue={(letter) => putTilt({ letter })}
      />
      <Sense
        label="Sense of the tilt"
        wide
        sense={tilt.sense}
        describe={(sense) => `+: ${describeTilt({ letter: tilt.letter, sense })}`}
        put={(sense) => putTilt({ sense })}
      />
      <Quantity label="Tilts from" kind="angle" value={tilt.minDeg} put={(minDeg) => putTilt({ minDeg })} />
      <Quantity label="to" kind="angle" value={tilt.maxDeg} put={(maxDeg) => putTilt({ maxDeg })} />
      <Sense
        label="Sense of the turn (C)"
        wide
        sense={turn.sense}
        describe={(sense) => `+: ${describeTableTurn({ sense })}`}
        put={(sense) => putTurn({ sense })}
      />
      <RangeFields range={turn.range} put={(range) => putTurn({ range })} />
      <Quantity
        label={`Turn’s axis ${tilt.letter === 'A' ? 'behind' : 'to the right of'} the tilt’s (0: they meet)`}
        kind="length"
        value={table.turnAsideMm}
        put={(turnAsideMm) => put({ turnAsideMm })}
      />
      <Quantity label="Table (0: not known)" kind="length" value={table.tableMm} put={(tableMm) => put({ tableMm })} />
      <Quantity label="Its face over the tilt’s axis" kind="length" value={table.faceMm} put={(faceMm) => put({ faceMm })} />
      <Quantity label="Chuck on it (0: not known)" kind="length" value={turn.chuckMm} put={(chuckMm) => putTurn({ chuckMm })} />
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
      <Sense
        label="Its + leans the tool"
        sense={head.sense}
        describe={(sense) => (sense > 0 ? 'to the blank’s far end' : 'to its datum end')}
        put={(sense) => put({ sense })}
      />
      <Quantity label="From" kind="angle" value={head.minDeg} put={(minDeg) => put({ minDeg })} />
      <Quantity label="To" kind="angle" value={head.maxDeg} put={(maxDeg) => put({ maxDeg })} />
      <Quantity
        label="Tilt axis to tip (0: control keeps the tip)"
        kind="length"
        value={head.pivotMm}
        put={(pivotMm) => put({ pivotMm })}
      />
    </>
  );
}
