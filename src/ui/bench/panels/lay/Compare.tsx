'use client';

import { useEffect, useState } from 'react';
import { type Job, type Lay } from '../../../../core/job/schema';
import { describeLay } from '../../../../core/lay/layMap';
import { createPlanningWorkers, type LetteringView } from '../../../../workers/planning.client';
import { useBlank } from '../../../state/useSurface';
import { MATERIALS } from '../../preview';

import { TITLES, formatPercent, inked } from './layWords';

interface Tried {
  kind: Lay['kind'];
  letters: Lay['letters'];
  view: LetteringView;
}

/** Every lay of the same lettering, drawn small on the sheet with what it keeps and bends. */
export function Compare({
  job,
  current,
  letters,
  onTake,
}: {
  job: Job;
  current: Lay['kind'];
  letters: Lay['letters'];
  onTake(patch: Partial<Lay>): void;
}) {
  const { surface } = useBlank();
  const [tried, setTried] = useState<Tried[]>([]);
  useEffect(() => {
    let gone = false;
    const workers = createPlanningWorkers();
    const wanted: [Lay['kind'], Lay['letters']][] = !surface.hasRims
      ? [
          ['drape', letters],
          ['project', letters],
        ]
      : [
          ['wrap', letters],
          ['level', 'rigid'],
          ['level', 'bent'],
          ['drape', letters],
          ['project', letters],
        ];
    void (async () => {
      const out: Tried[] = [];
      for (const [kind, own] of wanted) {
        try {
          const view = await workers.lettering.call({ job: { ...job, lay: { ...job.lay, kind, letters: own } } }, { deadlineMs: 30_000 });
          out.push({ kind, letters: own, view });
          if (!gone) setTried([...out]);
        } catch {
          return;
        }
      }
    })();
    return () => {
      gone = true;
      workers.lettering.dispose();
      workers.plan.dispose();
    };
  }, [job, surface, letters]);
  const { minX, maxX, minY, maxY } = surface.domain;
  // As much of the sheet as the letters need in any of the lays, so that all are drawn to one scale.
  const boxes = tried.flatMap((t) => inked(t.view).map((i) => i.box));
  const pad = 3;
  // Lettering that runs round goes across the picture, as it is read, so that a sagging line is seen to sag.
  const across = Math.abs(Math.sin(((job.inscriptions[0]?.rotationDeg ?? 0) * Math.PI) / 180)) > 0.7;
  const x0 = Math.max(minX, Math.min(...boxes.map((b) => b.minX)) - pad),
    x1 = Math.min(maxX, Math.max(...boxes.map((b) => b.maxX)) + pad);
  const y0 = Math.max(minY, Math.min(...boxes.map((b) => b.minY)) - pad),
    y1 = Math.min(maxY, Math.max(...boxes.map((b) => b.maxY)) + pad);
  return (
    <div className="compare" data-testid="compare">
      {tried.map(({ kind, letters: own, view }) => {
        const worst = inked(view)
          .flatMap((i) => i.letters)
          .reduce((w, l) => (Math.abs(l.stretch - 1) > Math.abs(w - 1) ? l.stretch : w), 1);
        const here = kind === current && (kind !== 'level' || own === letters);
        return (
          <button
            key={kind + own}
            type="button"
            className={here ? 'here' : ''}
            title={describeLay(kind, own, surface)}
            onClick={() => onTake({ kind, letters: own })}
          >
            <svg
              viewBox={
                across
                  ? `${y0} ${x0} ${Math.max(0.1, y1 - y0)} ${Math.max(0.1, x1 - x0)}`
                  : `${x0} ${-y1} ${Math.max(0.1, x1 - x0)} ${Math.max(0.1, y1 - y0)}`
              }
              preserveAspectRatio="xMidYMid meet"
            >
              <g transform={across ? 'matrix(0 1 1 0 0 0)' : 'scale(1 -1)'}>
                <rect x={minX} y={minY} width={maxX - minX} height={maxY - minY} fill={MATERIALS[job.material].sheet} />
                {inked(view).map((i) => (
                  <g key={i.id}>
                    {i.areaData && <path d={i.areaData} fill="var(--ink)" />}
                    {i.strokeData && (
                      <path d={i.strokeData} fill="none" stroke="var(--ink)" strokeWidth={1} vectorEffect="non-scaling-stroke" />
                    )}
                  </g>
                ))}
              </g>
            </svg>
            <span>
              {TITLES[kind]}
              {kind === 'level' ? `, ${own === 'rigid' ? 'whole' : 'bent'}` : ''} <i>{formatPercent(worst)}</i>
            </span>
          </button>
        );
      })}
    </div>
  );
}
