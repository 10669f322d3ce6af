'use client';

import { useEffect, useRef, useState } from 'react';
import { axisBottom } from 'd3-axis';
import { scaleLinear } from 'd3-scale';
import { select } from 'd3-selection';
import type { Cut, Tool } from '../../../../core/job/schema';
import { getCutKind } from '../../../../core/cut/kinds/registry';
import { listFits, type Fit } from '../../../../core/suggest/sensible';
import type { StrokeWidths } from '../../../../core/suggest/strokes';
import { mergeTools } from '../../../../core/suggest/suggest';
import { Button } from '../../../common/Button';
import { formatLength } from '../../../common/format';
import { patchCut, useBench, useJob } from '../../../state/benchStore';
import type { Suggesting } from '../../../state/useSuggest';
import { withTool } from './withTool';

const [WIDTH, BARS, ROW] = [300, 90, 20];
const EDGE = { left: 8, right: 8, top: 8 };
const COUNT = 28;

/** How wide the strokes of the lettering are, with the crib's cutters under them: what each goes into, and how deep. */
export function ToolFit({ crib, suggesting }: { crib: readonly Tool[]; suggesting: Suggesting }) {
  const job = useJob();
  const [strokes, setStrokes] = useState<StrokeWidths | null>(null);
  const ask = async () => setStrokes((await suggesting.ask({ kind: 'strokes' }))?.strokes ?? null);
  return (
    <>
      <h3>Tool fit</h3>
      <Button size="sm" variant="outline-primary" disabled={suggesting.progress !== null} onClick={() => void ask()}>
        Measure the strokes
      </Button>
      {strokes && strokes.totalMm === 0 && <p className="why">There is no closed lettering to measure.</p>}
      {strokes && strokes.totalMm > 0 && <FitChart strokes={strokes} fits={listFits(strokes, mergeTools(job.tools, crib))} />}
    </>
  );
}

function FitChart({ strokes, fits }: { strokes: StrokeWidths; fits: readonly Fit[] }) {
  const bench = useBench();
  const { cuts, units } = useJob();
  const axis = useRef<SVGGElement>(null);
  const most = strokes.widestMm * 1.1;
  const x = scaleLinear([0, most], [EDGE.left, WIDTH - EDGE.right]);
  const bins = new Float64Array(COUNT);
  for (let k = 0; k < strokes.widthMm.length; k++)
    bins[Math.min(COUNT - 1, Math.floor((strokes.widthMm[k]! / most) * COUNT))]! += strokes.lengthMm[k]!;
  const y = scaleLinear([0, Math.max(...bins)], [0, BARS - EDGE.top]);
  useEffect(() => {
    select(axis.current!).call(axisBottom(x).ticks(6) as never);
  });
  const shown = fits.filter((f) => f.share > 0.02).sort((a, b) => b.share - a.share);
  const height = BARS + 34 + ROW * shown.length;
  const choose = (tool: Tool) => {
    const cut = cuts.find((c) => c.enabled && getCutKind(c).cutters.includes(tool.kind));
    if (cut) bench.edit(`${cut.id} tool`, (j) => patchCut(cut.id, { toolId: tool.id } as Partial<Cut>)(withTool(j, tool)));
  };
  return (
    <>
      <p className="why">
        {formatLength(strokes.totalMm, units, 0)} {units} of strokes, the widest {formatLength(strokes.widestMm, units)} {units}, a
        twentieth narrower than {formatLength(strokes.narrowMm, units)} {units}. A line shows the widths that a cutter can do; choose one to
        put it into its cut.
      </p>
      <svg
        viewBox={`0 0 ${WIDTH} ${height}`}
        className="tool-fit"
        role="img"
        aria-label="Length of strokes by width, with the cutters that fit"
      >
        {[...bins].map((length, k) => (
          <rect key={k} x={x((k * most) / COUNT) + 0.5} width={x(most / COUNT) - x(0) - 1} y={BARS - y(length)} height={y(length)} />
        ))}
        <g ref={axis} transform={`translate(0,${BARS})`} />
        <text x={WIDTH - EDGE.right} y={BARS + 28} textAnchor="end">
          width of strokes, mm
        </text>
        {shown.map((fit, k) => {
          const at = BARS + 34 + ROW * (k + 0.5);
          const [from, to] = [x(Math.min(most, fit.narrowestMm)), x(Math.min(most, fit.widestMm ?? most))];
          return (
            <g
              key={fit.tool.id}
              className="fit"
              role="button"
              tabIndex={0}
              aria-label={`Take ${fit.tool.name}`}
              onClick={() => choose(fit.tool)}
              onKeyDown={(e) => e.key === 'Enter' && choose(fit.tool)}
            >
              <rect className="hit" x={0} y={at - ROW / 2} width={WIDTH} height={ROW} />
              <line x1={from} x2={to} y1={at + 5} y2={at + 5} />
              <text x={EDGE.left} y={at + 1}>
                {fit.tool.name}
              </text>
              <text x={WIDTH - EDGE.right} y={at + 1} textAnchor="end">
                {fit.depthMm === null ? '' : `${formatLength(fit.depthMm, units)} deep, `}
                {Math.round(100 * fit.share)} %
              </text>
            </g>
          );
        })}
      </svg>
    </>
  );
}
