'use client';

import { useEffect, useMemo } from 'react';
import { ArrowLineRightIcon, CaretLeftIcon, CaretRightIcon, PauseIcon, PlayIcon } from '@phosphor-icons/react';
import { listRuns } from '../../../core/pipeline/setup';
import type { PlanView } from '../../../workers/planning.client';
import { formatTime } from '../../common/format';
import { useBench, useJob, useView } from '../../state/benchStore';
import type { LoadKind } from '../../../core/removal/load';
import { findLoadPeaks } from './loadTrace';
import { findRunSpans, findStep, findStepEnds, STEP_UNITS, type StepUnit } from './playSteps';

/** How much faster than the machine. */
const SPEEDS = [1, 4, 16, 64, 256] as const;
const UNIT_NAMES: Record<StepUnit, string> = { block: 'block', stroke: 'stroke', level: 'level', cut: 'cut' };

/** Runs the program on the screen: play, step by step, one cut alone, and what is left of the time. */
export function PlayBar({ plan }: { plan: PlanView }) {
  const bench = useBench();
  const job = useJob();
  const playS = useView((v) => v.playS);
  const playing = useView((v) => v.playing);
  const speed = useView((v) => v.playSpeed);
  const unit = useView((v) => v.stepUnit);
  const only = useView((v) => v.onlyRun);
  const spans = useMemo(() => findRunSpans(plan), [plan]);
  const span = spans.find((s) => s.run === only);
  const [startS, endS] = span ? [span.fromS, span.toS] : [0, plan.timeS];
  const now = Math.max(startS, Math.min(playS, endS));
  const ends = useMemo(() => findStepEnds(plan, unit), [plan, unit]);
  const runs = useMemo(() => listRuns(job), [job]);
  usePlaying(endS, startS);
  const step = (back: boolean) => {
    const to = findStep(ends, now, back);
    bench.view.setState({ playing: false, playS: Math.max(startS, Math.min(endS, to)) });
  };
  useStepKeys(step);
  return (
    <div className="play" role="toolbar" aria-label="Play the program">
      <button
        type="button"
        className="tool"
        aria-label={playing ? 'Pause' : 'Play'}
        title={playing ? 'Pause (space)' : 'Play (space)'}
        onClick={() => bench.view.setState(playing ? { playing: false } : { playing: true, playS: now >= endS ? startS : now })}
      >
        {playing ? <PauseIcon size={15} weight="fill" /> : <PlayIcon size={15} weight="fill" />}
      </button>
      <button type="button" className="tool" aria-label="Step back" title="Step back (,)" onClick={() => step(true)}>
        <CaretLeftIcon size={15} />
      </button>
      <button type="button" className="tool" aria-label="Step on" title="Step on (.)" onClick={() => step(false)}>
        <CaretRightIcon size={15} />
      </button>
      <select aria-label="Step by" value={unit} onChange={(e) => bench.view.setState({ stepUnit: e.target.value as StepUnit })}>
        {STEP_UNITS.map((u) => (
          <option key={u} value={u}>
            by {UNIT_NAMES[u]}
          </option>
        ))}
      </select>
      <button
        type="button"
        className="tool"
        aria-label="Finished piece"
        title="To the end: the finished piece"
        onClick={() => bench.view.setState({ playing: false, playS: span ? endS : Infinity })}
      >
        <ArrowLineRightIcon size={15} />
      </button>
      <select aria-label="Speed" value={speed} onChange={(e) => bench.view.setState({ playSpeed: Number(e.target.value) })}>
        {SPEEDS.map((s) => (
          <option key={s} value={s}>
            {s === 1 ? 'as it runs' : `${s} × faster`}
          </option>
        ))}
      </select>
      {spans.length > 1 && (
        <select
          aria-label="Cuts shown"
          value={only ?? ''}
          onChange={(e) => {
            const run = e.target.value === '' ? null : Number(e.target.value);
            const own = spans.find((s) => s.run === run);
            bench.view.setState({ playing: false, onlyRun: run, playS: own ? own.toS : Infinity });
          }}
        >
          <option value="">all cuts</option>
          {spans.map((s) => (
            <option key={s.run} value={s.run}>
              only {runs[s.run]?.name ?? ''}
            </option>
          ))}
        </select>
      )}
      <LoadWords />
      <span className="figure" data-testid="play-time">
        {formatTime(now - startS)} done, {formatTime(endS - now)} left
      </span>
    </div>
  );
}

/** Where most is taken away, and where the cutter only travels; a click goes there. */
function LoadWords() {
  const bench = useBench();
  const load = useView((v) => v.piece?.load ?? null);
  const kind = useView((v) => v.loadKind);
  const peaks = useMemo(() => (load ? findLoadPeaks(load.timesS, load[kind]) : null), [load, kind]);
  if (!peaks) return null;
  const go = (timeS: number) => bench.view.setState({ playing: false, playS: timeS });
  return (
    <>
      <select
        aria-label="Load shown"
        title="What the brown trace under the depths shows"
        value={kind}
        onChange={(e) => bench.view.setState({ loadKind: e.target.value as LoadKind })}
      >
        <option value="rate">rate</option>
        <option value="section">chip</option>
        <option value="engaged">engaged</option>
      </select>
      <button type="button" className="words" title="Where most is taken away" onClick={() => go(peaks.fullest.timeS)}>
        fullest {sayLoad(kind, peaks.fullest.value)}
      </button>
      {peaks.emptiest && (
        <button
          type="button"
          className="words"
          title="The longest stay that takes next to nothing"
          onClick={() => go(peaks.emptiest!.timeS)}
        >
          emptiest {formatTime(peaks.emptiest.seconds)}
        </button>
      )}
    </>
  );
}

/** A load in words. */
function sayLoad(kind: LoadKind, value: number): string {
  if (kind === 'engaged') return `${Math.round(100 * value)} %`;
  const digits = kind === 'section' ? 3 : value < 10 ? 1 : 0;
  return `${value.toFixed(digits)} ${kind === 'section' ? 'mm²' : 'mm³/min'}`;
}

/** Moves the playhead on while it plays. */
function usePlaying(endS: number, startS: number): void {
  const bench = useBench();
  const playing = useView((v) => v.playing);
  useEffect(() => {
    if (!playing) return;
    let last = performance.now();
    let frame = requestAnimationFrame(function go(t) {
      const { playS, playSpeed } = bench.view.getState();
      const next = Math.max(startS, playS) + ((t - last) / 1000) * playSpeed;
      last = t;
      const { piece, stopAtDangers } = bench.view.getState();
      const danger = stopAtDangers ? piece?.dangers.find((d) => d.timeS > playS && d.timeS <= next) : undefined;
      if (danger) {
        bench.view.setState({ playS: danger.timeS, playing: false, station: 'program' });
        return;
      }
      if (next >= endS) {
        bench.view.setState({ playS: endS, playing: false });
        return;
      }
      bench.view.setState({ playS: next });
      frame = requestAnimationFrame(go);
    });
    return () => cancelAnimationFrame(frame);
  }, [playing, bench, endS, startS]);
}

/** Space plays and pauses, comma and full stop step: unless something that has keys of its own has the focus. */
function useStepKeys(step: (back: boolean) => void): void {
  const bench = useBench();
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      if (e.ctrlKey || e.metaKey || e.altKey) return;
      const target = e.target as Element;
      if (target.closest('input, textarea, select, button, a, summary, [contenteditable=true]')) return;
      if (e.key === ' ') {
        e.preventDefault();
        const { playing, playS } = bench.view.getState();
        bench.view.setState(playing ? { playing: false } : { playing: true, playS: Number.isFinite(playS) ? playS : 0 });
      } else if (e.key === ',' || e.key === '.') step(e.key === ',');
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [bench, step]);
}
