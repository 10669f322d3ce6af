import type { Machine } from '../../../core/job/schema';
import { getHead, getRotary, getTable, withHead, withRotary, withTable } from '../../../core/machine/layouts/edit';
import { Figures, Quantity, type Figure, type FormProps } from './parts';

const SPEEDS: readonly Figure[] = [
  ['maxFeedMmPerMin', 'Feed at most', 'feed'],
  ['rapidMmPerMin', 'Rapid', 'feed'],
  ['accelerationMmPerS2', 'Acceleration, mm/s²', 'number'],
  ['maxSpindleRpm', 'Spindle at most, rev/min', 'number'],
  ['spindleRunUpS', 'Spindle run-up, s', 'number'],
  ['toolChangeS', 'Change of cutter, s', 'number'],
];

/** How far each axis goes, where what turns stands in that, and how fast all is. */
export function TravelFields({ machine, set }: FormProps) {
  return (
    <>
      {(['X', 'Y', 'Z'] as const).map((letter) => (
        <Quantity
          key={letter}
          label={`${letter} can go (0: ?)`}
          kind="length"
          value={machine.travelMm[letter]}
          put={(mm) => set({ travelMm: { ...machine.travelMm, [letter]: mm } })}
        />
      ))}
      <StandsAt machine={machine} set={set} />
      <Figures of={SPEEDS} machine={machine} set={set} />
      <TurningSpeeds machine={machine} set={set} />
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
          <Quantity
            key={letter}
            label={`${what} in ${letter}, from its low end (0: ?)`}
            kind="length"
            value={standsAt[key] ?? 0}
            put={(mm) => put({ [key]: mm === 0 ? null : mm })}
          />
        );
      })}
      <Quantity
        label={`Spindle’s nose over ${what ? 'that axis' : 'the table'} at the top (0: ?)`}
        kind="length"
        value={standsAt.noseMm}
        put={(noseMm) => put({ noseMm })}
      />
      <Quantity
        label="Clamps over a lying blank (0: none)"
        kind="length"
        value={clamps.highMm}
        put={(highMm) => set({ clamps: { ...clamps, highMm } })}
      />
      <Quantity
        label="They reach in from its ends"
        kind="length"
        value={clamps.reachMm}
        put={(reachMm) => set({ clamps: { ...clamps, reachMm } })}
      />
    </>
  );
}

/** How fast each axis that turns is. */
function TurningSpeeds({ machine, set }: FormProps) {
  const { layout } = machine;
  const [rotary, head, table] = [getRotary(layout), getHead(layout), getTable(layout)];
  type Pace = { maxDegPerMin: number; accelerationDegPerS2: number };
  const turning: [name: string, axis: Pace, put: (patch: Partial<Pace>) => string | null][] = [];
  if (rotary) turning.push(['Rotary', rotary, (patch) => set(withRotary(machine, patch))]);
  if (head) turning.push(['Head', head, (patch) => set(withHead(machine, patch))]);
  if (table)
    for (const which of ['tilt', 'turn'] as const)
      turning.push([table[which].letter, table[which], (patch) => set(withTable(machine, { [which]: { ...table[which], ...patch } }))]);
  return turning.flatMap(([name, axis, put]) => [
    <Quantity
      key={name}
      label={`${name} at most, °/min`}
      kind="number"
      value={axis.maxDegPerMin}
      put={(maxDegPerMin) => put({ maxDegPerMin })}
    />,
    <Quantity
      key={`${name} acceleration`}
      label={`${name} acceleration, °/s²`}
      kind="number"
      value={axis.accelerationDegPerS2}
      put={(accelerationDegPerS2) => put({ accelerationDegPerS2 })}
    />,
  ]);
}
