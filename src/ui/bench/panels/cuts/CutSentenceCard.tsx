import { useState } from 'react';
import Form from 'react-bootstrap/Form';
import { CaretDownIcon, CaretUpIcon, DotsSixVerticalIcon, TrashIcon } from '@phosphor-icons/react';
import { getCutKind } from '../../../../core/cut/kinds/registry';
import type { Cut, Tool } from '../../../../core/job/schema';
import { getTitle } from '../../../../core/job/title';
import type { PlanView } from '../../../../workers/planning.client';
import { Button } from '../../../common/Button';
import { formatLength } from '../../../common/format';
import { QuantityField } from '../../../common/QuantityField';
import { TextField } from '../../../common/fields';
import { Slot } from '../../../common/Slot';
import { patchCut, useBench, useJob } from '../../../state/benchStore';
import { cutColour } from '../../cutColours';
import { getCutSentence } from '../../cutKinds/registry';
import { ClearingSlots } from './ClearingSlots';
import { describeDepths, describeLevels, describeTargets, moveItem, toggleTarget } from './describeCut';
import { LevelsEditor } from './LevelsEditor';
import { useSortableCard } from './SortableCuts';
import { withTool } from './withTool';

interface CardProps {
  cut: Cut;
  /** Place among the cuts that are switched on, −1 if it is off. */
  index: number;
  first: boolean;
  last: boolean;
  crib: readonly Tool[];
  /** One a cutter, in running order. */
  summaries: readonly PlanView['cuts'][number][];
}

interface PartProps {
  cut: Cut;
  set(this: void, patch: Partial<Cut>): string | null;
}

/** One cut as a sentence, with what it comes to and what can be done with it. */
export function CutSentenceCard({ cut, index, first, last, crib, summaries }: CardProps) {
  const bench = useBench();
  const { units } = useJob();
  const [more, setMore] = useState(false);
  const set = (patch: Partial<Cut>) => bench.edit(`${cut.id} ${Object.keys(patch).join()}`, patchCut(cut.id, patch));
  const { isDragging, place, setNodeRef, setActivatorNodeRef, handle } = useSortableCard(cut.id);
  const style = { ...place, ...(index >= 0 ? { borderLeftColor: cutColour(index) } : {}) };
  return (
    <div
      ref={setNodeRef}
      className={`sentence${cut.enabled ? '' : ' off'}${isDragging ? ' dragged' : ''}`}
      style={style}
      data-testid={`cut-${cut.id}`}
    >
      <Sentence cut={cut} set={set} crib={crib} />
      {summaries
        .filter((s) => s.strokes > 0)
        .map((s) => (
          <div key={s.stage} className="why figure">
            {summaries.length > 1 && `${s.tool}: `}
            {s.strokes} strokes, {formatLength(s.cutLengthMm, units, 0)} {units}; to {describeDepths(s.levelsMm, units)}
          </div>
        ))}
      <Actions
        cut={cut}
        set={set}
        first={first}
        last={last}
        handle={handle}
        handleRef={setActivatorNodeRef}
        more={more}
        onMore={() => setMore(!more)}
      />
      {more && <MoreFields cut={cut} set={set} />}
      {more && <PlannedAgain summaries={summaries} />}
    </div>
  );
}

function Sentence({ cut, set, crib }: PartProps & { crib: readonly Tool[] }) {
  const { units } = useJob();
  const { lead, Slots } = getCutSentence(cut);
  return (
    <div>
      {lead}
      <TargetsSlot cut={cut} set={set} />
      {' with '}
      <CutterSlot cut={cut} crib={crib} />
      <ClearingSlots cut={cut} crib={crib} />
      <Slots cut={cut} units={units} set={set} />
      {', in '}
      <Slot text={describeLevels(cut.levels, units)} label="Levels">
        {(done) => <LevelsEditor cut={cut} set={set} done={done} />}
      </Slot>
      {', at '}
      <Slot text={`${formatLength(cut.feedMmPerMin, units, 1)} ${units}/min`} label="Feed">
        {(done) => (
          <QuantityField
            kind="feed"
            value={cut.feedMmPerMin}
            units={units}
            autoFocus
            ariaLabel="Feed"
            onDone={done}
            onValue={(v) => set({ feedMmPerMin: v })}
          />
        )}
      </Slot>
      .
    </div>
  );
}

function TargetsSlot({ cut, set }: PartProps) {
  const { inscriptions } = useJob();
  const { targets } = cut;
  return (
    <Slot text={describeTargets(targets, inscriptions)} label="Lettering to cut">
      {(done) => (
        <div>
          <Form.Check
            id={`${cut.id}-all`}
            label="all lettering"
            checked={targets === 'all'}
            onChange={(e) => set({ targets: e.target.checked ? 'all' : [] })}
          />
          {inscriptions.map((i) => (
            <Form.Check
              key={i.id}
              id={`${cut.id}-${i.id}`}
              label={getTitle(i)}
              checked={targets === 'all' || targets.includes(i.id)}
              onChange={(e) => set({ targets: toggleTarget(targets, i.id, e.target.checked, inscriptions) })}
            />
          ))}
          <Button size="sm" variant="link" className="p-0" onClick={done}>
            Done
          </Button>
        </div>
      )}
    </Slot>
  );
}

function CutterSlot({ cut, crib }: { cut: Cut; crib: readonly Tool[] }) {
  const bench = useBench();
  const job = useJob();
  const own = new Set(job.tools.map((t) => t.id));
  const { cutters } = getCutKind(cut);
  const tools = [...job.tools, ...crib.filter((t) => !own.has(t.id))].filter((t) => cutters.includes(t.kind));
  return (
    <Slot text={job.tools.find((t) => t.id === cut.toolId)?.name ?? 'a cutter'} label="Cutter">
      {(done) => (
        <Form.Select
          size="sm"
          autoFocus
          value={cut.toolId}
          aria-label="Cutter"
          onBlur={done}
          onChange={(e) => {
            const chosen = tools.find((t) => t.id === e.target.value);
            if (chosen) bench.edit(`${cut.id} tool`, (j) => patchCut(cut.id, { toolId: chosen.id })(withTool(j, chosen)));
            done();
          }}
        >
          {tools.map((t) => (
            <option key={t.id} value={t.id}>
              {t.name}
            </option>
          ))}
        </Form.Select>
      )}
    </Slot>
  );
}

interface ActionProps extends PartProps {
  first: boolean;
  last: boolean;
  handle: ReturnType<typeof useSortableCard>['handle'];
  handleRef(this: void, node: HTMLElement | null): void;
  more: boolean;
  onMore(): void;
}

function Actions({ cut, set, first, last, handle, handleRef, more, onMore }: ActionProps) {
  const bench = useBench();
  const move = (by: -1 | 1) =>
    bench.edit(`order#${cut.id}`, (j) => ({
      ...j,
      cuts: moveItem(
        j.cuts,
        j.cuts.findIndex((c) => c.id === cut.id),
        by,
      ),
    }));
  const remove = () => bench.edit(`remove#${cut.id}`, (j) => ({ ...j, cuts: j.cuts.filter((c) => c.id !== cut.id) }));
  return (
    <div className="d-flex gap-2 align-items-center">
      <button
        type="button"
        className="handle"
        aria-label={`Order of ${cut.name}: drag, or press space and an arrow`}
        ref={handleRef}
        {...handle}
      >
        <DotsSixVerticalIcon size={16} />
      </button>
      <Form.Check
        type="switch"
        id={`${cut.id}-on`}
        label="Cut this"
        checked={cut.enabled}
        onChange={(e) => set({ enabled: e.target.checked })}
      />
      <span className="flex-grow-1" />
      <Button size="sm" variant="link" className="p-0" aria-expanded={more} onClick={onMore}>
        {more ? 'Less' : 'More'}
      </Button>
      <Button size="sm" variant="link" className="p-0" aria-label="Earlier" disabled={first} onClick={() => move(-1)}>
        <CaretUpIcon size={14} />
      </Button>
      <Button size="sm" variant="link" className="p-0" aria-label="Later" disabled={last} onClick={() => move(1)}>
        <CaretDownIcon size={14} />
      </Button>
      <Button size="sm" variant="link" className="p-0 text-secondary" aria-label={`Remove ${cut.name}`} onClick={remove}>
        <TrashIcon size={14} />
      </Button>
    </div>
  );
}

/** What of a cut the last plan made, and what it had from before. */
function PlannedAgain({ summaries }: Pick<CardProps, 'summaries'>) {
  const [kept, made] = summaries.reduce(([k, m], { pieces }) => [k + pieces.kept, m + pieces.made], [0, 0]);
  if (kept! + made! === 0) return null;
  return (
    <p className="why mt-1 mb-0" data-testid="planned-again">
      Last planned: {made} piece{made === 1 ? '' : 's'} anew, {kept} kept.
    </p>
  );
}

function MoreFields({ cut, set }: PartProps) {
  const { units, motion } = useJob();
  return (
    <div className="fields mt-1">
      <TextField label="Name" value={cut.name} maxLength={120} onValue={(name) => set({ name })} />
      <QuantityField label="Plunge" kind="feed" value={cut.plungeMmPerMin} units={units} onValue={(v) => set({ plungeMmPerMin: v })} />
      <QuantityField label="Spindle, rev/min" kind="number" value={cut.spindleRpm} units={units} onValue={(v) => set({ spindleRpm: v })} />
      <QuantityField label="Begin at depth" kind="length" value={cut.beginMm} units={units} onValue={(v) => set({ beginMm: v })} />
      <QuantityField
        label={cut.hopHeightMm === null ? 'Hop, as all cuts' : 'Hop, of its own'}
        kind="length"
        value={cut.hopHeightMm ?? motion.hopHeightMm}
        units={units}
        onValue={(v) => set({ hopHeightMm: v === motion.hopHeightMm ? null : v })}
      />
      <Form.Group controlId={`${cut.id}-levels-by`}>
        <Form.Label>Levels</Form.Label>
        <Form.Select size="sm" value={cut.levelsBy} onChange={(e) => set({ levelsBy: e.target.value as Cut['levelsBy'] })}>
          <option value="clip">cut the stroke off</option>
          <option value="shift">raise the whole stroke</option>
        </Form.Select>
      </Form.Group>
      <Form.Check
        id={`${cut.id}-reversible`}
        className="align-self-end"
        label="Strokes may run backwards"
        checked={cut.reversible}
        onChange={(e) => set({ reversible: e.target.checked })}
      />
    </div>
  );
}
