import Form from 'react-bootstrap/Form';
import { chooseCuttingData } from '../../../../core/crib/speeds';
import { getStages, type Cut, type Job, type Stage, type Tool } from '../../../../core/job/schema';
import { Button } from '../../../common/Button';
import { formatLength } from '../../../common/format';
import { QuantityField } from '../../../common/QuantityField';
import { Slot } from '../../../common/Slot';
import { patchCut, useBench, useJob } from '../../../state/benchStore';
import { describeLevels } from './describeCut';
import { LevelsEditor } from './LevelsEditor';
import { withTool } from './withTool';

/** Most cutters before a cut's own, as its schema has it. */
const MOST = 5;

/** How a cutter that goes before is run to begin with. */
export function createStage(tool: Tool, job: Pick<Job, 'material' | 'machine'>): Stage {
  const data = chooseCuttingData(tool, job.material, job.machine);
  return {
    toolId: tool.id,
    levels: { by: 'step', stepMm: data.stepDownMm, even: true, finishMm: 0 },
    feedMmPerMin: data.feedMmPerMin,
    plungeMmPerMin: data.plungeMmPerMin,
    spindleRpm: data.spindleRpm,
    stepOverShare: data.stepOverShare,
  };
}

/** The cutters that clear floors before a cut's own, each a slot, largest first. */
export function ClearingSlots({ cut, crib }: { cut: Cut; crib: readonly Tool[] }) {
  const bench = useBench();
  const job = useJob();
  if (!('clearing' in cut)) return null;
  const stages = getStages(cut);
  const own = new Set(job.tools.map((t) => t.id));
  const mills = [...job.tools, ...crib.filter((t) => !own.has(t.id))].filter((t) => ['flat', 'bull', 'ball'].includes(t.kind));
  const put = (clearing: Stage[], tool?: Tool) =>
    bench.edit(`${cut.id} clearing`, (j) => patchCut(cut.id, { clearing } as Partial<Cut>)(tool ? withTool(j, tool) : j));
  const widthOf = (s: Stage, from: readonly Tool[]): number => from.find((t) => t.id === s.toolId)?.diameterMm ?? 0;
  const add = (tool: Tool) =>
    put(
      [...stages, createStage(tool, job)].sort((a, b) => widthOf(b, mills) - widthOf(a, mills)),
      tool,
    );
  const free = mills.filter((t) => !stages.some((s) => s.toolId === t.id) && t.id !== cut.toolId);
  return (
    <>
      {' after '}
      {stages.map((stage, k) => (
        <span key={stage.toolId}>
          {k > 0 && ' and '}
          <StageSlot
            stage={stage}
            mills={mills}
            onStage={(next, tool) =>
              put(
                stages.map((s, i) => (i === k ? next : s)),
                tool,
              )
            }
            onRemove={() => put(stages.filter((_, i) => i !== k))}
          />
        </span>
      ))}
      {stages.length > 0 && stages.length < MOST && ' and '}
      {stages.length < MOST && (
        <Slot text={stages.length > 0 ? 'another' : 'no other cutter'} label="Cutter that clears before">
          {(done) => (
            <Form.Select
              size="sm"
              autoFocus
              aria-label="Cutter that clears before"
              value=""
              onBlur={done}
              onChange={(e) => {
                const tool = free.find((t) => t.id === e.target.value);
                if (tool) add(tool);
                done();
              }}
            >
              <option value="">choose an end mill</option>
              {free.map((t) => (
                <option key={t.id} value={t.id}>
                  {t.name}
                </option>
              ))}
            </Form.Select>
          )}
        </Slot>
      )}
    </>
  );
}

interface StageProps {
  stage: Stage;
  mills: readonly Tool[];
  onStage(stage: Stage, tool?: Tool): string | null;
  onRemove(): void;
}

function StageSlot({ stage, mills, onStage, onRemove }: StageProps) {
  const { units } = useJob();
  const name = mills.find((t) => t.id === stage.toolId)?.name ?? 'a cutter';
  return (
    <Slot text={`${name}, ${describeLevels(stage.levels, units)}, ${formatLength(stage.feedMmPerMin, units, 0)} ${units}/min`} label={name}>
      {(done) => (
        <div className="d-grid gap-1 py-1">
          <LevelsEditor cut={stage} set={(patch) => onStage({ ...stage, ...patch })} done={done} />
          <QuantityField
            label="Feed"
            kind="feed"
            value={stage.feedMmPerMin}
            units={units}
            onValue={(v) => onStage({ ...stage, feedMmPerMin: v })}
          />
          <QuantityField
            label="Plunge"
            kind="feed"
            value={stage.plungeMmPerMin}
            units={units}
            onValue={(v) => onStage({ ...stage, plungeMmPerMin: v })}
          />
          <QuantityField
            label="Spindle, rev/min"
            kind="number"
            value={stage.spindleRpm}
            units={units}
            onValue={(v) => onStage({ ...stage, spindleRpm: v })}
          />
          <QuantityField
            label="Step-over, % of the diameter"
            kind="number"
            value={100 * stage.stepOverShare}
            units={units}
            onValue={(v) => onStage({ ...stage, stepOverShare: v / 100 })}
          />
          <Button
            size="sm"
            variant="link"
            className="p-0 text-secondary text-start"
            onClick={() => {
              onRemove();
              done();
            }}
          >
            Without it
          </Button>
        </div>
      )}
    </Slot>
  );
}
