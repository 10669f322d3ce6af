'use client';

import { useEffect, useMemo, useRef, useState } from 'react';
import { axisBottom, axisLeft } from 'd3-axis';
import { scaleLinear } from 'd3-scale';
import { select } from 'd3-selection';
import { isCutMove } from '../../core/lay/laidPaths';
import { Button } from '../common/Button';
import { formatLength, formatTime } from '../common/format';
import { useBench, useJob, useView } from '../state/benchStore';
import type { RemovalState } from '../state/useRemoval';
import type { Planning } from '../state/usePlanning';
import type { PlanView } from '../../workers/planning.client';
import { cutColour } from './cutColours';
import { toLoadPath } from './play/loadTrace';
import { PlayBar } from './play/PlayBar';

const LEFT = 54;
const RIGHT = 30;
const TOP = 12;
const BOTTOM = 22;
/** Share of the ladder's height that the fullest load takes, from its foot. */
const LOAD_SHARE = 0.45;

/** Depth against time, the levels as rungs, one colour a cut. Its playhead drives both views and the program text. */
interface Props {
  plan: PlanView | null;
  stale: boolean;
  planning: Planning;
  removal: RemovalState;
}

export function DepthLadder({ plan, stale, planning, removal }: Props) {
  const bench = useBench();
  const job = useJob();
  const playS = useView((v) => v.playS);
  const host = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(0);
  const [height, setHeight] = useState(0);
  const below = useRef<SVGGElement>(null);
  const beside = useRef<SVGGElement>(null);
  useEffect(() => {
    const observer = new ResizeObserver(([entry]) => {
      setWidth(entry!.contentRect.width);
      setHeight(entry!.contentRect.height);
    });
    observer.observe(host.current!);
    return () => observer.disconnect();
  }, []);

  const deepest = Math.max(0, ...(plan?.cuts.map((c) => c.maxDepthMm) ?? []));
  const hop = Math.max(0.05, Math.min(job.motion.hopHeightMm, 0.35 * (deepest || 1)));
  const x = useMemo(
    () =>
      scaleLinear()
        .domain([0, plan?.timeS || 1])
        .range([LEFT, Math.max(LEFT + 10, width - RIGHT)]),
    [plan, width],
  );
  const y = useMemo(
    () =>
      scaleLinear()
        .domain([-hop, deepest || 1])
        .range([TOP, Math.max(TOP + 10, height - BOTTOM)]),
    [hop, deepest, height],
  );
  const paths = useMemo(() => (plan && width ? toLadderPaths(plan, x, y, hop) : []), [plan, width, x, y, hop]);
  const loadKind = useView((v) => v.loadKind);
  const load = useView((v) => (v.piece && v.piece.plan === plan ? v.piece.load : null));
  const loadPath = useMemo(
    () =>
      load && width
        ? toLoadPath(load.timesS, load[loadKind], x, (share) => height - BOTTOM - share * LOAD_SHARE * (height - BOTTOM - TOP))
        : '',
    [load, loadKind, width, height, x],
  );
  const has = plan !== null && plan.laid.count > 0 && width > 0;
  useEffect(() => {
    if (!has) return;
    select(below.current!).call(
      axisBottom(x)
        .ticks(Math.max(3, width / 160))
        .tickFormat((v) => formatTime(Number(v)))
        .tickSizeOuter(0),
    );
    select(beside.current!).call(
      axisLeft(y)
        .ticks(4)
        .tickFormat((v) => (Number(v) < 0 ? '' : formatLength(Number(v), job.units)))
        .tickSizeOuter(0),
    );
  }, [has, x, y, width, job.units]);

  const scrub = (e: React.PointerEvent<SVGSVGElement>) => {
    if (!plan) return;
    const t = x.invert(e.clientX - e.currentTarget.getBoundingClientRect().left);
    bench.view.setState({ playing: false, playS: Math.max(0, Math.min(plan.timeS, t)) });
  };
  const now = Math.min(playS, plan?.timeS ?? 0);
  return (
    <section className="ladder-frame" aria-label="The program in time">
      {plan !== null && plan.laid.count > 0 && <PlayBar plan={plan} />}
      <div className="ladder" ref={host} data-testid="ladder">
        {has && (
          <svg
            role="slider"
            tabIndex={0}
            aria-label="Depth ladder: time of the program"
            aria-valuemin={0}
            aria-valuemax={Math.round(plan.timeS)}
            aria-valuenow={Math.round(now)}
            aria-valuetext={formatTime(now)}
            opacity={stale ? 0.35 : 1}
            onPointerDown={(e) => {
              e.currentTarget.setPointerCapture(e.pointerId);
              scrub(e);
            }}
            onPointerMove={(e) => e.buttons && scrub(e)}
            onKeyDown={(e) => {
              const step = { ArrowLeft: -1, ArrowRight: 1, PageUp: 10, PageDown: -10 }[e.key];
              if (e.key === 'Home') bench.view.setState({ playS: 0 });
              if (e.key === 'End') bench.view.setState({ playS: plan.timeS });
              if (!step) return;
              e.preventDefault();
              bench.view.setState({ playS: Math.max(0, Math.min(plan.timeS, now + (step * plan.timeS) / 400)) });
            }}
          >
            <rect x={LEFT} y={TOP} width={Math.max(0, width - LEFT - RIGHT)} height={Math.max(0, y(0) - TOP)} fill="#e9f0ea" />
            {plan.cuts.flatMap((cut, c) =>
              cut.levelsMm.map((d, k) => (
                <line
                  key={`${cut.id}${k}`}
                  x1={LEFT}
                  x2={width - RIGHT}
                  y1={y(d)}
                  y2={y(d)}
                  stroke={cutColour(c)}
                  strokeOpacity={0.45}
                  strokeDasharray="6 4"
                />
              )),
            )}
            <line x1={LEFT} x2={width - RIGHT} y1={y(0)} y2={y(0)} stroke="var(--ink)" strokeWidth={1.2} />
            {loadPath && <path d={loadPath} fill="var(--brass)" fillOpacity={0.28} data-testid="load" />}
            {paths.map((p) => (
              <path key={p.cut} d={p.data} fill="none" stroke={cutColour(p.cut)} strokeWidth={1} />
            ))}
            <g ref={below} className="axis" transform={`translate(0,${height - BOTTOM})`} />
            <g ref={beside} className="axis" transform={`translate(${LEFT},0)`} />
            <text x={6} y={TOP}>
              depth {job.units}
            </text>
            <g transform={`translate(${x(now)},0)`} data-testid="playhead" style={{ cursor: 'ew-resize' }}>
              <line y1={4} y2={height - BOTTOM} stroke="var(--verdigris)" strokeWidth={1.6} />
              <path d="M-6 2 h12 l-6 9 z" fill="var(--verdigris)" />
            </g>
          </svg>
        )}
        {!has && !planning.progress && !planning.failure && (
          <div className="hint">{job.cuts.length ? 'Nothing to cut yet' : 'Add a cut to see how deep the tool goes, and when'}</div>
        )}
        {planning.failure && (
          <div className="hint" role="alert" style={{ color: 'var(--oxide)' }}>
            {planning.failure}
          </div>
        )}
        {planning.progress && (
          <div className="working" role="status">
            {planning.progress.stage} <progress max={1} value={planning.progress.share} /> {Math.round(100 * planning.progress.share)} %
            <button type="button" onClick={planning.stop}>
              Stop
            </button>
          </div>
        )}
        {removal.failure && !planning.failure && (
          <div className="hint" role="alert" style={{ color: 'var(--oxide)' }}>
            {removal.failure}
          </div>
        )}
        {removal.progress !== null && !planning.progress && (
          <div className="working" role="status">
            cutting the piece <progress max={1} value={removal.progress} /> {Math.round(100 * removal.progress)} %
          </div>
        )}
        {planning.stopped && !planning.progress && (
          <div className="working">
            Planning stopped.{' '}
            <Button size="sm" variant="link" className="p-0" onClick={planning.resume}>
              Plan again
            </Button>
          </div>
        )}
      </div>
    </section>
  );
}

/**
 * Depth over time per cut while the tool cuts, thinned to the highest and deepest point in every pixel column; a gap
 * stands for a hop.
 */
function toLadderPaths(plan: PlanView, x: (t: number) => number, y: (d: number) => number, hopMm: number): { cut: number; data: string }[] {
  const { blocks, laid } = plan;
  const out = new Map<number, string[]>();
  let column = -1;
  let low = 0;
  let high = 0;
  let cut = 0;
  let joined = false;
  const flush = () => {
    if (column < 0) return;
    const list = out.get(cut) ?? [];
    list.push(`${joined ? 'L' : 'M'}${column} ${y(high).toFixed(1)}`, `L${column} ${(y(low) + 0.01).toFixed(2)}`);
    out.set(cut, list);
    column = -1;
    joined = true;
  };
  for (let i = 0; i < blocks.count; i++) {
    const move = blocks.move[i]!;
    if (!isCutMove(laid.kind[move]!)) {
      if (joined || column >= 0) {
        flush();
        joined = false;
      }
      continue;
    }
    const px = Math.round(x(blocks.timesS[i]!));
    const depth = Math.max(-hopMm, blocks.sheet[3 * i + 2]!);
    const own = laid.run[move]!;
    if (px !== column || own !== cut) {
      flush();
      if (own !== cut) joined = false;
      column = px;
      low = high = depth;
      cut = own;
    }
    low = Math.max(low, depth);
    high = Math.min(high, depth);
  }
  flush();
  return [...out].map(([c, list]) => ({ cut: c, data: list.join('') }));
}
