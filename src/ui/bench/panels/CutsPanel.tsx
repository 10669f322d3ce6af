'use client';

import { useState } from 'react';
import Form from 'react-bootstrap/Form';
import { CaretDownIcon, CaretUpIcon, PlusIcon, TrashIcon } from '@phosphor-icons/react';
import { createCentreLine, createVCarve } from '../../../core/job/defaults';
import type { Cut, Job, Tool } from '../../../core/job/schema';
import { getTitle } from '../../../core/job/title';
import type { PlanView } from '../../../workers/planning.client';
import { Button } from '../../common/Button';
import { formatLength, formatLengthUnit } from '../../common/format';
import { QuantityField } from '../../common/QuantityField';
import { Slot } from '../../common/Slot';
import { freeId, patchCut, useBench, useJob } from '../../state/benchStore';
import { cutColour } from '../cutColours';

/** The cuts, each a sentence with slots that open in place. */
export function CutsPanel({ crib, plan }: { crib: readonly Tool[]; plan: PlanView | null }) {
  const bench = useBench();
  const job = useJob();
  const { units, motion } = job;
  const add = (make: (id: string, toolId: string) => Cut, stem: string) => {
    const id = freeId(job.cuts, stem);
    const tool = job.tools.find((t) => t.kind !== 'flat') ?? crib.find((t) => t.kind !== 'flat');
    if (!tool) return;
    bench.edit(`add#${id}`, (j) => ({ ...withTool(j, tool), cuts: [...j.cuts, make(id, tool.id)] }));
  };
  const setMotion = (patch: Partial<Job['motion']>) =>
    bench.edit(`motion ${Object.keys(patch).join()}`, (j) => ({ ...j, motion: { ...j.motion, ...patch } }));
  let running = 0;
  return (
    <>
      <h2>Cuts</h2>
      {job.cuts.map((cut, k) => {
        const index = cut.enabled ? running++ : -1;
        return (
          <Sentence
            key={cut.id}
            cut={cut}
            index={index}
            first={k === 0}
            last={k === job.cuts.length - 1}
            crib={crib}
            summary={index >= 0 ? plan?.cuts[index] : undefined}
          />
        );
      })}
      {job.cuts.length === 0 && (
        <p className="why">None yet. A V-carve fills outline letters; a centre-line cut follows stroke fonts at one depth.</p>
      )}
      <div className="d-flex gap-2">
        <Button size="sm" variant="outline-primary" onClick={() => add(createVCarve, 'carve')}>
          <PlusIcon size={13} /> V-carve
        </Button>
        <Button size="sm" variant="outline-primary" onClick={() => add(createCentreLine, 'line')}>
          <PlusIcon size={13} /> Centre-line
        </Button>
      </div>
      <h3>Heights over the surface, for all cuts</h3>
      <div className="fields">
        <QuantityField label="Hop" kind="length" value={motion.hopHeightMm} units={units} onValue={(v) => setMotion({ hopHeightMm: v })} />
        <QuantityField
          label="Approach gap"
          kind="length"
          value={motion.approachGapMm}
          units={units}
          onValue={(v) => setMotion({ approachGapMm: v })}
        />
        <QuantityField
          label="Park"
          kind="length"
          value={motion.parkHeightMm}
          units={units}
          onValue={(v) => setMotion({ parkHeightMm: v })}
        />
      </div>
      <p className="why">
        Between strokes the tool lifts to the hop height; rapid ends and feed begins at the approach gap; it starts, ends and is changed at
        the park height.
      </p>
    </>
  );
}

/** The job with a cutter of the crib taken into it. */
const withTool = (job: Job, tool: Tool): Job => (job.tools.some((t) => t.id === tool.id) ? job : { ...job, tools: [...job.tools, tool] });

interface SentenceProps {
  cut: Cut;
  index: number;
  first: boolean;
  last: boolean;
  crib: readonly Tool[];
  summary: PlanView['cuts'][number] | undefined;
}

function Sentence({ cut, index, first, last, crib, summary }: SentenceProps) {
  const bench = useBench();
  const job = useJob();
  const { units } = job;
  const [more, setMore] = useState(false);
  const set = (patch: Partial<Cut>) => bench.edit(`${cut.id} ${Object.keys(patch).join()}`, patchCut(cut.id, patch));
  const mm = (v: number) => formatLengthUnit(v, units);
  const tools = [...job.tools, ...crib.filter((t) => !job.tools.some((own) => own.id === t.id))].filter(
    (t) => t.kind !== 'flat' || cut.kind === 'centre-line',
  );
  const tool = job.tools.find((t) => t.id === cut.toolId);
  const nameOf = (id: string) => {
    const i = job.inscriptions.find((x) => x.id === id);
    return i ? getTitle(i) : id;
  };
  const targets = cut.targets === 'all' ? 'all lettering' : cut.targets.length ? cut.targets.map(nameOf).join(', ') : 'nothing';
  const levels =
    cut.levels.by === 'count'
      ? cut.levels.count === 1
        ? 'one level'
        : `${cut.levels.count} levels`
      : `${cut.levels.even ? 'even' : 'fixed'} levels of ${mm(cut.levels.stepMm)}`;
  const move = (by: -1 | 1) =>
    bench.edit(`order#${cut.id}`, (j) => {
      const from = j.cuts.findIndex((c) => c.id === cut.id);
      const cuts = [...j.cuts];
      cuts.splice(from + by, 0, ...cuts.splice(from, 1));
      return { ...j, cuts };
    });
  return (
    <div
      className={`sentence${cut.enabled ? '' : ' off'}`}
      style={index >= 0 ? { borderLeftColor: cutColour(index) } : undefined}
      data-testid={`cut-${cut.id}`}
    >
      <div>
        {cut.kind === 'v-carve' ? 'V-carve ' : 'Engrave the centre-line of '}
        <Slot text={targets} label="Lettering to cut">
          {(done) => (
            <div>
              <Form.Check
                id={`${cut.id}-all`}
                label="all lettering"
                checked={cut.targets === 'all'}
                onChange={(e) => set({ targets: e.target.checked ? 'all' : [] })}
              />
              {job.inscriptions.map((i) => (
                <Form.Check
                  key={i.id}
                  id={`${cut.id}-${i.id}`}
                  label={nameOf(i.id)}
                  checked={cut.targets === 'all' || cut.targets.includes(i.id)}
                  onChange={(e) => {
                    const now = cut.targets === 'all' ? job.inscriptions.map((x) => x.id) : cut.targets;
                    set({ targets: e.target.checked ? [...now.filter((t) => t !== i.id), i.id] : now.filter((t) => t !== i.id) });
                  }}
                />
              ))}
              <Button size="sm" variant="link" className="p-0" onClick={done}>
                Done
              </Button>
            </div>
          )}
        </Slot>
        {' with '}
        <Slot text={tool?.name ?? 'a cutter'} label="Cutter">
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
        {cut.kind === 'v-carve' ? (
          <>
            {' down to the stroke’s own depth, at most '}
            <Slot text={mm(cut.maxDepthMm)} label="Depth limit">
              {(done) => (
                <QuantityField
                  kind="length"
                  value={cut.maxDepthMm}
                  units={units}
                  autoFocus
                  ariaLabel="Depth limit"
                  onDone={done}
                  onValue={(v) => set({ maxDepthMm: v } as Partial<Cut>)}
                />
              )}
            </Slot>
          </>
        ) : (
          <>
            {' at a depth of '}
            <Slot text={mm(cut.depthMm)} label="Depth">
              {(done) => (
                <QuantityField
                  kind="length"
                  value={cut.depthMm}
                  units={units}
                  autoFocus
                  ariaLabel="Depth"
                  onDone={done}
                  onValue={(v) => set({ depthMm: v } as Partial<Cut>)}
                />
              )}
            </Slot>
          </>
        )}
        {', in '}
        <Slot text={levels} label="Levels">
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
      {summary && summary.strokes > 0 && (
        <div className="why figure">
          {summary.strokes} strokes, {formatLength(summary.cutLengthMm, units, 0)} {units}; to{' '}
          {summary.levelsMm.map((d) => formatLength(d, units)).join(', ')} {units}
        </div>
      )}
      <div className="d-flex gap-2 align-items-center">
        <Form.Check
          type="switch"
          id={`${cut.id}-on`}
          label="Cut this"
          checked={cut.enabled}
          onChange={(e) => set({ enabled: e.target.checked })}
        />
        <span className="flex-grow-1" />
        <Button size="sm" variant="link" className="p-0" aria-expanded={more} onClick={() => setMore(!more)}>
          {more ? 'Less' : 'More'}
        </Button>
        <Button size="sm" variant="link" className="p-0" aria-label="Earlier" disabled={first} onClick={() => move(-1)}>
          <CaretUpIcon size={14} />
        </Button>
        <Button size="sm" variant="link" className="p-0" aria-label="Later" disabled={last} onClick={() => move(1)}>
          <CaretDownIcon size={14} />
        </Button>
        <Button
          size="sm"
          variant="link"
          className="p-0 text-secondary"
          aria-label={`Remove ${cut.name}`}
          onClick={() => bench.edit(`remove#${cut.id}`, (j) => ({ ...j, cuts: j.cuts.filter((c) => c.id !== cut.id) }))}
        >
          <TrashIcon size={14} />
        </Button>
      </div>
      {more && (
        <div className="fields mt-1">
          <Form.Group controlId={`${cut.id}-name`}>
            <Form.Label>Name</Form.Label>
            <Form.Control size="sm" value={cut.name} onChange={(e) => set({ name: e.target.value })} />
          </Form.Group>
          <QuantityField label="Plunge" kind="feed" value={cut.plungeMmPerMin} units={units} onValue={(v) => set({ plungeMmPerMin: v })} />
          <QuantityField
            label="Spindle, rev/min"
            kind="number"
            value={cut.spindleRpm}
            units={units}
            onValue={(v) => set({ spindleRpm: v })}
          />
          <Form.Check
            id={`${cut.id}-reversible`}
            className="align-self-end"
            label="Strokes may run backwards"
            checked={cut.reversible}
            onChange={(e) => set({ reversible: e.target.checked })}
          />
        </div>
      )}
    </div>
  );
}

function LevelsEditor({ cut, set, done }: { cut: Cut; set(patch: Partial<Cut>): string | null; done(): void }) {
  const { units } = useJob();
  const { levels } = cut;
  return (
    <div className="py-1">
      <Form.Select
        size="sm"
        aria-label="Kind of levels"
        value={levels.by === 'count' ? 'count' : levels.even ? 'even' : 'fixed'}
        onChange={(e) => {
          const kind = e.target.value;
          set({
            levels:
              kind === 'count'
                ? { by: 'count', count: 2 }
                : { by: 'step', stepMm: 0.25, even: kind === 'even', finishMm: levels.by === 'step' ? levels.finishMm : 0 },
          });
        }}
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
