'use client';

import { useState } from 'react';
import Form from 'react-bootstrap/Form';
import { PlusIcon } from '@phosphor-icons/react';
import { CUT_KINDS, type CutKindId } from '../../../core/cut/kinds/registry';
import type { Finding } from '../../../core/findings/finding';
import type { Cut, Job, Tool } from '../../../core/job/schema';
import { listRuns } from '../../../core/pipeline/setup';
import type { Sensible } from '../../../core/suggest/sensible';
import { mergeTools } from '../../../core/suggest/suggest';
import type { LetteringView, PlanView } from '../../../workers/planning.client';
import { formatTime } from '../../common/format';
import { useSuggest, type Suggesting } from '../../state/useSuggest';
import { roundFor } from '../../common/roundFor';
import { Button } from '../../common/Button';
import { QuantityField } from '../../common/QuantityField';
import { freeId, useBench, useJob } from '../../state/benchStore';
import { CribChanges } from './cuts/CribChanges';
import { CutSentenceCard } from './cuts/CutSentenceCard';
import { SortableCuts } from './cuts/SortableCuts';
import { SuggestPanel } from './cuts/SuggestPanel';
import { ToolFit } from './cuts/ToolFit';
import { TrialsPanel } from './cuts/TrialsPanel';

interface Props {
  crib: readonly Tool[];
  /** Cutters of the crib that the machine has not got, by their ids. */
  absent: ReadonlySet<string>;
  plan: PlanView | null;
  lettering: LetteringView | null;
  findings: readonly Finding[];
}

/** The cuts, each a sentence with slots that open in place. */
export function CutsPanel({ crib, absent, plan, lettering, findings }: Props) {
  const job = useJob();
  const suggesting = useSuggest(job, lettering, crib);
  let running = 0;
  return (
    <>
      <h2>Cuts</h2>
      <SortableCuts>
        {job.cuts.map((cut, k) => {
          const index = cut.enabled ? running++ : -1;
          const summaries = index >= 0 ? (plan?.cuts.filter((c) => c.id === cut.id) ?? []) : [];
          const last = k === job.cuts.length - 1;
          return <CutSentenceCard key={cut.id} cut={cut} index={index} first={k === 0} last={last} crib={crib} summaries={summaries} />;
        })}
      </SortableCuts>
      {job.cuts.length === 0 && <p className="why">None yet. {describeKinds()}</p>}
      <BetterWays findings={findings} suggesting={suggesting} />
      <CribChanges crib={crib} absent={absent} />
      <AddCut crib={crib} suggesting={suggesting} />
      <SuggestPanel suggesting={suggesting} />
      <TrialsPanel suggesting={suggesting} plan={plan} lettering={lettering} />
      <ToolFit crib={crib} suggesting={suggesting} />
      <Heights plan={plan} />
    </>
  );
}

/** Cuts that cost minutes which another way would save, each with that way: what Hobel would make of such a cut by itself. */
function BetterWays({ findings, suggesting }: { findings: readonly Finding[]; suggesting: Suggesting }) {
  const bench = useBench();
  const job = useJob();
  const [why, setWhy] = useState<string | null>(null);
  const slow = job.cuts.filter((cut) => findings.some((f) => f.code === 'slow-floor' && f.where.id === cut.id));
  const take = async (cut: Cut) => {
    const better = (await suggesting.ask({ kind: 'cut', cut: cut.kind, id: cut.id, targets: cut.targets }))?.sensible;
    if (!better) return setWhy(`The crib has nothing better for “${cut.name}”`);
    const { name, targets } = cut;
    bench.edit(`better#${cut.id}`, (j) => ({
      ...j,
      tools: mergeTools(j.tools, better.tools),
      cuts: j.cuts.map((c) => (c.id === cut.id ? { ...roundFor(j.units, better.cut), name, targets } : c)),
    }));
    setWhy(`“${name}” as Hobel makes it: ${better.why}`);
  };
  return (
    <>
      {slow.map((cut) => (
        <div key={cut.id} className="mb-2">
          <Button size="sm" variant="outline-primary" data-testid="better-way" onClick={() => void take(cut)}>
            Make “{cut.name}” in a quicker way
          </Button>
        </div>
      ))}
      <Said why={why} />
    </>
  );
}

const Said = ({ why }: { why: string | null }) =>
  why && (
    <p role="status" className="why">
      {why}.
    </p>
  );

/** What each kind of cut does, a sentence each. */
const describeKinds = (): string =>
  Object.values(CUT_KINDS)
    .map((kind) => `${kind.name} ${kind.about}.`)
    .join(' ');

/** A button for each kind of cut; a new one is made from the strokes, the material, the machine and the crib, and says why. */
function AddCut({ crib, suggesting }: { crib: readonly Tool[]; suggesting: Suggesting }) {
  const bench = useBench();
  const job = useJob();
  const [why, setWhy] = useState<string | null>(null);
  const add = async (kind: CutKindId) => {
    const cutId = freeId(job.cuts, kind);
    const sensible =
      (await suggesting.ask({ kind: 'cut', cut: kind, id: cutId, targets: 'all' }))?.sensible ?? createPlain(kind, cutId, job, crib);
    if (!sensible) return setWhy(`No cutter of the crib can make such a cut: it takes ${CUT_KINDS[kind].cutterName}`);
    bench.edit(`add#${cutId}`, (j) => ({
      ...j,
      tools: mergeTools(j.tools, sensible.tools),
      cuts: [...j.cuts, roundFor(j.units, sensible.cut)],
    }));
    setWhy(sensible.why);
  };
  return (
    <>
      <div className="d-flex flex-wrap gap-2">
        {(Object.keys(CUT_KINDS) as CutKindId[]).map((id) => (
          <Button key={id} size="sm" variant="outline-primary" title={CUT_KINDS[id].about} onClick={() => void add(id)}>
            <PlusIcon size={13} /> {CUT_KINDS[id].name}
          </Button>
        ))}
      </div>
      <Said why={why} />
    </>
  );
}

/** A cut of a kind with the first cutter that can make it, where the strokes are not known. */
function createPlain(kind: CutKindId, id: string, job: Job, crib: readonly Tool[]): Sensible | null {
  const fits = (t: Tool): boolean => (CUT_KINDS[kind].cutters as readonly string[]).includes(t.kind);
  const tool = job.tools.find(fits) ?? crib.find(fits);
  return tool
    ? { cut: CUT_KINDS[kind].create(id, tool.id) as Cut, tools: [tool], why: `the first cutter that can make it, ${tool.name}` }
    : null;
}

function Heights({ plan }: { plan: PlanView | null }) {
  const bench = useBench();
  const job = useJob();
  const { motion, units } = job;
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
      <Form.Check
        id="by-cutter"
        className="mt-2"
        label={describeByCutter(job, plan)}
        checked={motion.byCutter}
        onChange={(e) => set({ byCutter: e.target.checked })}
      />
      <p className="why">
        Between strokes the tool lifts to the hop height over all it crosses; rapid ends and feed begins at the approach gap; it starts,
        ends and is changed at the park height over the highest place of the blank.
      </p>
    </>
  );
}

/** Running cuts cutter by cutter, with the changes that it saves. */
function describeByCutter(job: Job, plan: PlanView | null): string {
  const count = (byCutter: boolean): number => {
    const runs = listRuns({ ...job, motion: { ...job.motion, byCutter } });
    const cuts = plan ? runs.filter((r) => plan.cuts.some((c) => c.id === r.id && c.stage === r.stage && c.strokes > 0)) : runs;
    return cuts.filter((r, k) => k > 0 && r.tool.id !== cuts[k - 1]!.tool.id).length;
  };
  const saved = count(false) - count(true);
  const words =
    saved > 0 ? `saves ${saved} change${saved > 1 ? 's' : ''}, ${formatTime(saved * job.machine.toolChangeS)}` : 'saves no change here';
  return `Cutter by cutter: ${words}`;
}
