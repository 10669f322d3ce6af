'use client';

import { useEffect, useMemo, useRef, useState, useSyncExternalStore } from 'react';
import { Group, Panel, Separator } from 'react-resizable-panels';
import type { Job, Machine, Tool } from '../../core/job/schema';
import { listDrawer } from '../../core/crib/drawer';
import type { Surface } from '../../core/surface/surface';
import type { FontCard } from '../../core/lettering/fontCard';
import { BenchContext, createBench, STATIONS, useBench, useJob, useView } from '../state/benchStore';
import { SurfaceContext, useBlankSurface } from '../state/useSurface';
import { useKeptView } from '../state/useKeptView';
import { joinFindings, type Danger } from '../../core/removal/dangers';
import { useRemoval } from '../state/useRemoval';
import { usePlanning } from '../state/usePlanning';
import { useSaving } from '../state/useSaving';
import { ConflictDialog } from './ConflictDialog';
import { DepthLadder } from './DepthLadder';
import { Inspector } from './Inspector';
import { LateBlankView } from './LateBlankView';
import { Masthead } from './Masthead';
import { Route } from './Route';
import { createSetupOn } from '../../core/pipeline/setup';
import { createDepthProbe } from './depthProbe';
import { warmTexts } from './panels/program/LateTexts';
import { toPreview } from './preview';
import { UnrolledView } from './UnrolledView';

interface Props {
  id: string;
  revision: number;
  job: Job;
  crib: Tool[];
  machines: Machine[];
  fonts: FontCard[];
}

/** One job on the bench: route above, two linked views, inspector, depth ladder. */
export function Bench(props: Props) {
  const [bench] = useState(() => createBench(props.job));
  return (
    <BenchContext.Provider value={bench}>
      <BenchBody {...props} />
    </BenchContext.Provider>
  );
}

function BenchBody({ id, revision, crib: wholeCrib, machines, fonts }: Props) {
  const bench = useBench();
  const job = useJob();
  // What the machine has today: the job's own copy of it may be older.
  const machine = machines.find((m) => m.id === job.machine.id) ?? job.machine;
  const crib = useMemo(() => listDrawer(machine, wholeCrib), [machine, wholeCrib]);
  const absent = useMemo(() => new Set(wholeCrib.map((t) => t.id).filter((tool) => !crib.some((t) => t.id === tool))), [crib, wholeCrib]);
  const planning = usePlanning(job);
  const { lettering, plan, stale } = planning;
  const removal = useRemoval(job, planning);
  const surfaceNow = useRef<Surface | null>(null);
  const saving = useSaving(
    id,
    job,
    revision,
    () => toPreview(job, lettering, surfaceNow.current),
    (newer) => {
      bench.document.setState({ job: newer });
      bench.document.temporal.getState().clear();
    },
  );
  const blank = useBlankSurface(job.blank);
  const { surface } = blank;
  const probe = useMemo(() => (plan && !stale ? createDepthProbe(createSetupOn(job, surface), plan) : null), [job, plan, stale, surface]);
  useEffect(() => {
    surfaceNow.current = surface;
  }, [surface]);
  useKeys();
  useKeptView(bench, id);
  const isPlanned = plan !== null;
  useEffect(() => {
    if (isPlanned) warmTexts();
  }, [isPlanned]);
  // Until the page listens, nothing on it may be typed in: React would put back what it knows beside what was typed.
  const ready = useSyncExternalStore(
    subscribeNever,
    () => true,
    () => false,
  );

  const dangers = useView((v) => (v.piece && v.piece.base === plan ? v.piece.planned.dangers : NO_DANGERS));
  const foreignPlan = useView((v) => (v.piece?.foreign && v.piece.base === plan ? v.piece.plan : null));
  const shown = foreignPlan ?? plan;
  const findings = stale ? (lettering?.findings ?? []) : joinFindings(plan?.findings ?? [], dangers);
  return (
    <SurfaceContext.Provider value={blank}>
      <div className="bench" inert={!ready}>
        <Masthead id={id} save={saving.state} />
        <Route job={job} lettering={lettering} plan={plan} stale={stale} findings={findings} />
        <main className="middle">
          <Group className="views" orientation="horizontal">
            <Panel defaultSize="54%" minSize="0%">
              <UnrolledView lettering={lettering} plan={planning.fitting && shown} surface={surface} probe={probe} ask={removal.ask} />
            </Panel>
            <Separator className="divider" aria-label="Divider between the views" />
            <Panel minSize="0%">
              <LateBlankView lettering={lettering} plan={planning.fitting && shown} surface={surface} />
            </Panel>
          </Group>
          <Inspector
            id={id}
            lettering={lettering}
            plan={plan}
            stale={stale}
            planning={planning}
            findings={findings}
            removal={removal}
            crib={crib}
            absent={absent}
            machines={machines}
            fonts={fonts}
          />
        </main>
        <DepthLadder plan={shown} stale={stale} planning={planning} removal={removal} />
        {saving.state.kind === 'conflict' && (
          <ConflictDialog
            theirs={saving.state.theirs}
            onKeep={(keep, theirs) => {
              if (keep === 'theirs') bench.document.setState({ job: theirs.job });
              saving.settle(keep, theirs);
            }}
          />
        )}
      </div>
    </SurfaceContext.Provider>
  );
}

const NO_DANGERS: readonly Danger[] = [];
const subscribeNever = () => () => undefined;

const isTyping = (target: EventTarget | null): boolean =>
  target instanceof Element && target.closest('input, textarea, select, [role=slider], [contenteditable=true]') !== null;

/** Whether keys are a text's own there: it has its own undo. */
const isText = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement && target.closest('input:not([type]), input[type=text], textarea, [contenteditable=true]') !== null;

/** 1 to 6 go to the stations, [ and ] turn the blank; undo and redo everywhere but in a text that is being typed. */
function useKeys(): void {
  const bench = useBench();
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const command = event.ctrlKey || event.metaKey;
      const { undo, redo } = bench.document.temporal.getState();
      // In a text that is being typed these are the text's own.
      if (command && isText(event.target)) return;
      if (command && event.key.toLowerCase() === 'z') {
        event.preventDefault();
        if (event.shiftKey) redo();
        else undo();
        return;
      }
      if (command && event.key.toLowerCase() === 'y') {
        event.preventDefault();
        redo();
        return;
      }
      if (command || event.altKey || isTyping(event.target)) return;
      const station = STATIONS[Number(event.key) - 1];
      if (station) bench.view.setState({ station });
      if (event.key === '[' || event.key === ']') {
        const turn = bench.view.getState().turnDeg + (event.key === '[' ? -30 : 30);
        bench.view.setState({ turnDeg: turn > 180 ? turn - 360 : turn <= -180 ? turn + 360 : turn });
      }
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [bench]);
}
