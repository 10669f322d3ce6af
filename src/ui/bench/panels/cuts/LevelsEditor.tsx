import Form from 'react-bootstrap/Form';
import type { Levels } from '../../../../core/job/schema';
import { Button } from '../../../common/Button';
import { QuantityField } from '../../../common/QuantityField';
import { useJob } from '../../../state/benchStore';

interface Props {
  cut: { levels: Levels };
  set(this: void, patch: { levels: Levels }): string | null;
  done(): void;
}

const START_COUNT = 2;
const START_STEP_MM = 0.25;

/** How a cut goes down: in a number of levels, or in steps. */
export function LevelsEditor({ cut, set, done }: Props) {
  const { units } = useJob();
  const { levels } = cut;
  const choose = (kind: string): Levels =>
    kind === 'count'
      ? { by: 'count', count: START_COUNT }
      : { by: 'step', stepMm: START_STEP_MM, even: kind === 'even', finishMm: levels.by === 'step' ? levels.finishMm : 0 };
  return (
    <div className="py-1">
      <Form.Select
        size="sm"
        aria-label="Kind of levels"
        value={levels.by === 'count' ? 'count' : levels.even ? 'even' : 'fixed'}
        onChange={(e) => set({ levels: choose(e.target.value) })}
      >
        <option value="count">a number of levels</option>
        <option value="even">even steps of at most</option>
        <option value="fixed">fixed steps of</option>
      </Form.Select>
      {levels.by === 'count' ? (
        <QuantityField
          kind="number"
          value={levels.count}
          units={units}
          ariaLabel="Number of levels"
          onValue={(v) => set({ levels: { by: 'count', count: v } })}
        />
      ) : (
        <>
          <QuantityField
            label="Step"
            kind="length"
            value={levels.stepMm}
            units={units}
            onValue={(v) => set({ levels: { ...levels, stepMm: v } })}
          />
          <QuantityField
            label="Finishing step (0 for none)"
            kind="length"
            value={levels.finishMm}
            units={units}
            onValue={(v) => set({ levels: { ...levels, finishMm: v } })}
          />
        </>
      )}
      <Button size="sm" variant="link" className="p-0" onClick={done}>
        Done
      </Button>
    </div>
  );
}
