import { NameField } from '../../common/NameField';
import { ControlFields, OwnBlocks } from './ControlFields';
import { LayoutFields } from './LayoutFields';
import { MachinePicture } from './MachinePicture';
import { Quantity, Section, type FormProps } from './parts';
import { TravelFields } from './TravelFields';

const HEIGHTS = [
  ['parkHeightMm', 'Waits above the blank at'],
  ['hopHeightMm', 'Hops at'],
  ['approachGapMm', 'Rapid down to, above the surface'],
] as const;

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
          <TravelFields machine={machine} set={set} />
        </Section>
        <Section title="Heights of a new job on it">
          {HEIGHTS.map(([key, label]) => (
            <Quantity
              key={key}
              label={label}
              kind="length"
              value={machine.heights[key]}
              put={(mm) => set({ heights: { ...machine.heights, [key]: mm } })}
            />
          ))}
        </Section>
        <Section title="What its control reads">
          <ControlFields machine={machine} set={set} />
        </Section>
        <OwnBlocks machine={machine} set={set} />
      </div>
      <MachinePicture machine={machine} set={set} />
    </div>
  );
}
