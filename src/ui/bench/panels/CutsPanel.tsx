'use client';

import { PlusIcon } from '@phosphor-icons/react';
import { CUT_KINDS, type CutKindId } from '../../../core/cut/kinds/registry';
import type { Cut, Job, Tool } from '../../../core/job/schema';
import type { PlanView } from '../../../workers/planning.client';
import { roundFor } from '../../common/roundFor';
import { Button } from '../../common/Button';
import { QuantityField } from '../../common/QuantityField';
import { freeId, useBench, useJob } from '../../state/benchStore';
import { CutSentenceCard } from './cuts/CutSentenceCard';
import { withTool } from './cuts/withTool';

/** The cuts, each a sentence with slots that open in place. */
export function CutsPanel({ crib, plan }: { crib: readonly Tool[]; plan: PlanView | null }) {
  const job = useJob();
  let running = 0;
  return (
    <>
      <h2>Cuts</h2>
      {job.cuts.map((cut, k) => {
        const index = cut.enabled ? running++ : -1;
        const summaries = index >= 0 ? (plan?.cuts.filter((c) => c.id === cut.id) ?? []) : [];
        const last = k === job.cuts.length - 1;
        return <CutSentenceCard key={cut.id} cut={cut} index={index} first={k === 0} last={last} crib={crib} summaries={summaries} />;
      })}
      {job.cuts.length === 0 && <p className="why">None yet. {describeKinds()}</p>}
      <AddCut crib={crib} />
      <Heights />
    </>
  );
}

/** What each kind of cut does, a sentence each. */
const describeKinds = (): string =>
  Object.values(CUT_KINDS)
    .map((kind) => `${kind.name} ${kind.about}.`)
    .join(' ');

/** A button for each kind of cut; a new one takes the first cutter of the job, or else of the crib, that it can be run with. */
function AddCut({ crib }: { crib: readonly Tool[] }) {
  const bench = useBench();
  const job = useJob();
  const add = (id: CutKindId) => {
    const kind = CUT_KINDS[id];
    const fits = (t: Tool): boolean => kind.cutters.includes(t.kind);
    const tool = job.tools.find(fits) ?? crib.find(fits);
    if (!tool) return;
    const cutId = freeId(job.cuts, id);
    bench.edit(`add#${cutId}`, (j) => ({ ...withTool(j, tool), cuts: [...j.cuts, roundFor(j.units, kind.create(cutId, tool.id) as Cut)] }));
  };
  return (
    <div className="d-flex flex-wrap gap-2">
      {(Object.keys(CUT_KINDS) as CutKindId[]).map((id) => (
        <Button key={id} size="sm" variant="outline-primary" onClick={() => add(id)}>
          <PlusIcon size={13} /> {CUT_KINDS[id].name}
        </Button>
      ))}
    </div>
  );
}

function Heights() {
  const bench = useBench();
  const { motion, units } = useJob();
  const set = (patch: Partial<Job['motion']>) =>
    bench.edit(`motion ${Object.keys(patch).join()}`, (j) => ({ ...j, motion: { ...j.motion, ...patch } }));
  return (
    <>
      <h3>Heights over the surface, for all cuts</h3>
      <div className="fields">
        <QuantityField label="Hop" kind="length" value={motion.hopHeightMm} units={units} onValue={(v) => set({ hopHeightMm: v })} />
        <QuantityField
          label="Approach gap"
          kind="length"
          value={motion.approachGapMm}
          units={units}
          onValue={(v) => set({ approachGapMm: v })}
        />
        <QuantityField label="Park" kind="length" value={motion.parkHeightMm} units={units} onValue={(v) => set({ parkHeightMm: v })} />
      </div>
      <p className="why">
        Between strokes the tool lifts to the hop height over all it crosses; rapid ends and feed begins at the approach gap; it starts,
        ends and is changed at the park height over the highest place of the blank.
      </p>
    </>
  );
}
