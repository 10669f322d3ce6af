'use client';

import { useCallback, useEffect, useRef, useState } from 'react';
import { PICTURE_CELLS } from '../../core/removal/relief';
import type { Job } from '../../core/job/schema';
import { AS_PLANNED, isAsPlanned } from '../../core/removal/whatIf';
import { MOVE } from '../../core/lay/laidPaths';
import { listRuns, listToolsByHand } from '../../core/pipeline/setup';
import {
  createRemovalWorker,
  type LineSpan,
  type PlanView,
  type TakenFile,
  type TilePictures,
  type Way,
  type WorkerFailure,
} from '../../workers/planning.client';
import { useBench, useView } from './benchStore';
import type { Piece } from './piece';
import type { Planning } from './usePlanning';

export interface RemovalState {
  /** Share done of what is computed, or null. */
  progress: number | null;
  failure: string | null;
  /** A file of the piece, or in words why there is none. */
  take(what: TakenFile, toleranceMm: number, whole: boolean): Promise<{ bytes: Uint8Array<ArrayBuffer> | null; refusal: string | null }>;
  /** What a place of the sheet is asked about: how deep, cut by which line and when. */
  ask(x: number, y: number): Promise<{ depthMm: number; by: { part: number; line: number; timeS: number } | null } | null>;
}

const RUN_DEADLINE_MS = 300_000;
const ASK_DEADLINE_MS = 60_000;
/** Programs of more blocks are sketched first. */
const SKETCH_FROM_BLOCKS = 4000;
/** Removal follows a plan when nothing was edited for this long. */
const RUN_AFTER_MS = 60;

/** Lines of a program on which a run's blocks stand. */
function findLines({ program, laid, blocks }: PlanView, run: number): LineSpan[] {
  const spans: LineSpan[] = [];
  for (let i = 0; i < blocks.count; i++) {
    if (laid.run[blocks.move[i]!] !== run) continue;
    const part = program.partOfBlock[i]!,
      line = program.lineOfBlock[i]!;
    const last = spans[spans.length - 1];
    if (last?.part === part) last.to = line;
    else spans.push({ part, from: line, to: line });
  }
  return spans;
}

/** A program from elsewhere in the form of a plan, so that all views show it alike. */
function toForeignPlan(job: Job, plan: PlanView, way: Way): PlanView {
  const count = way.timesS.length;
  const runs = listRuns(job);
  const runOf = job.tools.map((t) =>
    Math.max(
      0,
      runs.findIndex((r) => r.tool.id === t.id),
    ),
  );
  const timeS = way.timesS[count - 1] ?? 0;
  let deepest = 0;
  for (let i = 0; i < count; i++) deepest = Math.max(deepest, way.sheet[3 * i + 2]!);
  const kind = Uint8Array.from({ length: count }, (_, i) =>
    way.rapid[i] ? MOVE.hop : way.sheet[3 * i + 2]! > 0 || (i > 0 && way.sheet[3 * i - 1]! > 0) ? MOVE.cut : MOVE.enter,
  );
  const laid = {
    ...plan.laid,
    count,
    kind,
    run: Uint16Array.from(way.tool, (t) => (t < 0 ? 0 : runOf[t]!)),
    level: new Uint16Array(count),
    sheet: way.sheet,
    liftMm: new Float64Array(count),
  };
  return {
    ...plan,
    cuts: plan.cuts.map((c) => ({ ...c, levelsMm: [], maxDepthMm: deepest })),
    laid,
    blocks: {
      count,
      sheet: way.sheet,
      move: Uint32Array.from({ length: count }, (_, i) => i),
      timesS: way.timesS,
      values: new Float64Array(0),
      feedTimeMin: new Float64Array(0),
    },
    timeS,
    stopTimeS: timeS,
    standingS: 0,
    program: {
      // Its text may be long, and is read from its file as far as it is shown.
      parts: [{ name: '', text: '', lines: 0 }],
      partOfBlock: new Uint16Array(count),
      lineOfBlock: way.line,
    },
  };
}

/** Runs the program of a fresh plan, and brings the piece to the playhead: the newest moment that is asked for wins. */
export function useRemoval(job: Job, { lettering, plan, stale, fitting }: Planning): RemovalState {
  const bench = useBench();
  const worker = useRef<ReturnType<typeof createRemovalWorker> | null>(null);
  const [progress, setProgress] = useState<number | null>(null);
  const [failure, setFailure] = useState<string | null>(null);
  const shown = useRef<Piece | null>(null);
  const onlyRun = useView((v) => v.onlyRun);
  const whatIf = useView((v) => v.whatIf);
  const foreign = useView((v) => v.foreign);

  useEffect(() => {
    worker.current = createRemovalWorker();
    return () => {
      worker.current?.dispose();
      worker.current = null;
    };
  }, []);

  // Its code is fetched while the passes are planned.
  const isLettered = lettering !== null;
  const fits = fitting !== null;
  useEffect(() => {
    if (isLettered) worker.current?.warm();
  }, [isLettered]);

  // A new program is shown finished, with all its cuts.
  useEffect(
    () =>
      bench.view.setState({
        playS: Infinity,
        playing: false,
        onlyRun: null,
        whatIf: AS_PLANNED,
        measured: null,
        foreign: null,
        other: null,
      }),
    [plan, bench],
  );

  useEffect(() => {
    if (!plan || !lettering || !fits || stale || plan.laid.count === 0) return;
    const controller = new AbortController();
    const show = (next: Piece) => {
      shown.current = next;
      bench.view.setState({ piece: next });
    };
    let stopFollowing: (() => void) | null = null;
    const run = (inHaste: boolean) =>
      worker.current
        ?.call(
          {
            kind: 'run',
            job,
            lettering: { artworks: lettering.artworks, findings: [] },
            texts: foreign ? [] : plan.program.parts.map((p) => p.text),
            hand: listToolsByHand(listRuns(job), { ...plan, moves: plan.blocks }).map((t) => t.id),
            only: onlyRun === null || foreign ? null : findLines(plan, onlyRun),
            whatIf,
            foreign: foreign?.file ?? null,
            sketch: inHaste,
          },
          { signal: controller.signal, deadlineMs: RUN_DEADLINE_MS, onProgress: setProgress },
        )
        .then((answer) => {
          if (answer.kind !== 'run') return;
          const { grid, figures, pictures, truth, dangers, verdict, load, sketch } = answer;
          const last = shown.current;
          const whole = isAsPlanned(whatIf) && onlyRun === null && !foreign && !sketch;
          const own = { truth, dangers, isWhole: true };
          const planned = whole ? own : last?.base === plan ? last.planned : { truth, dangers: [], isWhole: false };
          const shownPlan = {
            base: plan,
            plan: foreign ? toForeignPlan(job, plan, answer.way) : plan,
            foreign: foreign && { ...foreign, faults: answer.faults, notes: answer.notes, lineStarts: answer.lineStarts },
          };
          const slots = new Map(Array.from(pictures.keys, (key, slot) => [key, slot]));
          show({
            grid,
            figures,
            slots,
            ...pictures,
            version: 1,
            changed: null,
            shownS: Infinity,
            truth,
            dangers,
            verdict,
            load,
            planned,
            whatIf,
            sketch,
            ...shownPlan,
          });
          if (sketch) {
            void run(false);
            return;
          }
          setProgress(null);
          setFailure(null);
          stopFollowing = follow(figures.timeS);
        })
        .catch((error: WorkerFailure) => {
          if (error.kind === 'cancelled') return;
          setProgress(null);
          setFailure(`What the program takes away could not be computed: ${error.message}`);
        });
    const timer = setTimeout(() => {
      setProgress(0);
      setFailure(null);
      // A long program is shown at once in coarse cells, and then as fine as it is measured.
      void run(plan.blocks.count > SKETCH_FROM_BLOCKS && !foreign);
    }, RUN_AFTER_MS);

    /** Brings the piece to the playhead whenever that moves. */
    function follow(endS: number): () => void {
      let at = endS;
      let busy = false;
      const catchUp = () => {
        const { playS } = bench.view.getState();
        const wanted = Math.min(playS, endS);
        if (busy || wanted === at) return;
        busy = true;
        worker.current
          ?.call({ kind: 'at', timeS: wanted }, { signal: controller.signal, deadlineMs: ASK_DEADLINE_MS })
          .then((answer) => {
            busy = false;
            at = wanted;
            const last = shown.current;
            if (answer.kind !== 'at' || !last) return;
            show({ ...last, ...put(last, answer.pictures), shownS: wanted });
            catchUp();
          })
          .catch(() => {
            busy = false;
          });
      };
      catchUp();
      return bench.view.subscribe((now, before) => {
        if (now.playS !== before.playS) catchUp();
      });
    }
    return () => {
      clearTimeout(timer);
      controller.abort();
      stopFollowing?.();
      setProgress(null);
    };
  }, [job, lettering, plan, stale, fits, bench, onlyRun, whatIf, foreign]);

  const ask = useCallback<RemovalState['ask']>(async (x, y) => {
    const answer = await worker.current?.call({ kind: 'cell', x, y }, { deadlineMs: ASK_DEADLINE_MS });
    return answer?.kind === 'cell' ? answer : null;
  }, []);
  const take = useCallback<RemovalState['take']>(async (what, toleranceMm, whole) => {
    const answer = await worker.current?.call({ kind: 'take', what, toleranceMm, whole }, { deadlineMs: RUN_DEADLINE_MS });
    return answer?.kind === 'take' ? answer : { bytes: null, refusal: 'there is no piece yet' };
  }, []);
  return {
    take,
    progress,
    failure,
    ask,
  };
}

/** Writes new pictures over the old ones. */
function put(piece: Piece, { keys, look, depth }: TilePictures): Pick<Piece, 'version' | 'changed'> {
  const changed: number[] = [];
  for (const [k, key] of keys.entries()) {
    const slot = piece.slots.get(key);
    if (slot === undefined) continue;
    changed.push(slot);
    piece.look.set(look.subarray(4 * PICTURE_CELLS * k, 4 * PICTURE_CELLS * (k + 1)), 4 * PICTURE_CELLS * slot);
    piece.depth.set(depth.subarray(PICTURE_CELLS * k, PICTURE_CELLS * (k + 1)), PICTURE_CELLS * slot);
  }
  return { version: piece.version + 1, changed };
}
