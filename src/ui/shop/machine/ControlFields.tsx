import { NAME_PLACEHOLDERS, PLACEHOLDERS } from '../../../core/job/machineSchema';
import type { Machine } from '../../../core/job/schema';
import { DIALECTS } from '../../../core/program/registry';
import { Button } from '../../common/Button';
import { Choice, Tick } from '../../common/fields';
import { NameField } from '../../common/NameField';
import { Figures, type Figure, type FormProps } from './parts';

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
/** What the control of a machine reads, and how programs for it are written. */
export function ControlFields({ machine, set }: FormProps) {
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
      <Figures of={DIGITS} machine={machine} set={set} />
    </>
  );
}

/** Blocks of the machine's own, in place of Hobel's or beside them. */
export function OwnBlocks({ machine, set }: FormProps) {
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
