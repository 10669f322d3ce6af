'use client';

import { useEffect, useRef, useState } from 'react';
import { axisBottom, axisLeft } from 'd3-axis';
import { scaleLinear } from 'd3-scale';
import { select } from 'd3-selection';
import { MAX_TRIALS } from '../../../../core/job/schema';
import { mergeTools, takeBest, withSuggestion, type Suggestion } from '../../../../core/suggest/suggest';
import { Button } from '../../../common/Button';
import { formatTime } from '../../../common/format';
import { freeId, useBench, useJob } from '../../../state/benchStore';
import type { Suggesting } from '../../../state/useSuggest';

const [WIDTH, HEIGHT] = [300, 170];
const EDGE = { left: 56, right: 12, top: 10, bottom: 34 };

/** Sets of cuts that Hobel would plan from the crib: minutes against what is left, and each as a trial or at once. */
export function SuggestPanel({ suggesting }: { suggesting: Suggesting }) {
  const bench = useBench();
  const job = useJob();
  const [found, setFound] = useState<{ list: Suggestion[]; areaMm2: number } | null>(null);
  const [marked, setMarked] = useState<Suggestion | null>(null);
  const ask = async () => {
    const answer = await suggesting.ask({ kind: 'sets' });
    if (answer) setFound({ list: answer.suggestions, areaMm2: answer.strokes.areaMm2 });
  };
  const take = (s: Suggestion) => bench.edit(`suggest#${s.name}`, (j) => withSuggestion(j, s));
  const keep = (s: Suggestion) =>
    bench.edit(`trial#${s.name}`, (j) => ({
      ...j,
      tools: mergeTools(j.tools, s.tools),
      trials: [...j.trials, { id: freeId(j.trials, 'trial'), name: s.name, cuts: s.cuts }],
    }));
  const best = found && takeBest(found.list, found.areaMm2, job);
  return (
    <>
      <h3>Ways to cut it</h3>
      <div className="d-flex gap-2 align-items-center">
        <Button size="sm" variant="outline-primary" disabled={suggesting.progress !== null} onClick={() => void ask()}>
          Suggest
        </Button>
        {suggesting.progress !== null && (
          <>
            <progress aria-label="Planning ways" value={suggesting.progress} />
            <Button size="sm" variant="link" className="p-0" onClick={suggesting.stop}>
              Stop
            </Button>
          </>
        )}
      </div>
      {!found && <p className="why">Plans a handful of sets from the crib and shows what each takes and leaves.</p>}
      {found?.list.length === 0 && <p className="why">There is no lettering, or no cutter of the crib goes into it.</p>}
      {found && found.list.length > 0 && (
        <>
          <SuggestChart list={found.list} marked={marked} onMark={setMarked} />
          <ul className="list-unstyled mb-0" data-testid="suggestions">
            {found.list.map((s) => (
              <li
                key={s.name}
                className={`suggestion${s === marked ? ' marked' : ''}`}
                onMouseEnter={() => setMarked(s)}
                onMouseLeave={() => setMarked(null)}
              >
                <div>
                  {s === best ? <strong>{s.name}</strong> : s.name}
                  {s.best && <span className="unbeaten"> unbeaten</span>}
                </div>
                <div className="why figure">
                  {formatTime(s.timeS)}, {s.lines} lines, {s.unreachedMm2.toFixed(2)} mm² left
                  {s.uncut95Um !== null && `, 95 % of the edge within ${Math.max(0.1, s.uncut95Um).toFixed(1)} µm`}
                </div>
                <div className="why">{s.why}</div>
                <Button size="sm" variant="link" className="p-0 me-3" onClick={() => take(s)}>
                  Take it
                </Button>
                <Button size="sm" variant="link" className="p-0" disabled={job.trials.length >= MAX_TRIALS} onClick={() => keep(s)}>
                  As a trial
                </Button>
              </li>
            ))}
          </ul>
        </>
      )}
    </>
  );
}

interface ChartProps {
  list: readonly Suggestion[];
  marked: Suggestion | null;
  onMark(this: void, s: Suggestion | null): void;
}

/** Minutes across, what is left upwards; those that no other beats are filled. */
function SuggestChart({ list, marked, onMark }: ChartProps) {
  const axes = useRef<SVGGElement>(null);
  const most = Math.max(...list.map((s) => s.timeS)) / 60;
  const x = scaleLinear([0, most * 1.05], [EDGE.left, WIDTH - EDGE.right]).nice();
  const left = Math.max(0.01, ...list.map((s) => s.unreachedMm2));
  const y = scaleLinear([0, left * 1.1], [HEIGHT - EDGE.bottom, EDGE.top]);
  useEffect(() => {
    const g = select(axes.current!);
    g.selectAll('*').remove();
    g.append('g')
      .attr('transform', `translate(0,${HEIGHT - EDGE.bottom})`)
      .call(axisBottom(x).ticks(5));
    g.append('g').attr('transform', `translate(${EDGE.left},0)`).call(axisLeft(y).ticks(4));
  });
  return (
    <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} className="suggest-chart" role="img" aria-label="Minutes against what is left, mm²">
      <g ref={axes} />
      <text x={(EDGE.left + WIDTH) / 2} y={HEIGHT - 4} textAnchor="middle">
        minutes
      </text>
      <text x={12} y={HEIGHT / 2} textAnchor="middle" transform={`rotate(-90 12 ${HEIGHT / 2})`}>
        left, mm²
      </text>
      {list.map((s) => (
        <circle
          key={s.name}
          cx={x(s.timeS / 60)}
          cy={y(s.unreachedMm2)}
          r={s === marked ? 7 : 5}
          className={s.best ? 'best' : ''}
          onMouseEnter={() => onMark(s)}
          onMouseLeave={() => onMark(null)}
        >
          <title>{s.name}</title>
        </circle>
      ))}
    </svg>
  );
}
