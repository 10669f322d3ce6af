'use client';

import type { Finding, Severity } from '../../core/findings/finding';
import { formatDeg, formatLength } from '../common/format';
import { patchInscription, useBench, useJob } from '../state/benchStore';
import { changeEach, selectOnly } from '../state/selection';
import { fromTurnDeg } from '../../core/surface/surface';
import { useSurface } from '../state/useSurface';
import { Button } from '../common/Button';

const WEIGHT: Record<Severity, string> = { spoils: 'Would spoil the piece', warns: 'Look at this', notes: 'Good to know' };
const ORDER: Record<Severity, number> = { spoils: 0, warns: 1, notes: 2 };

/** Findings, the gravest first, each with its cause, its place and its remedy. */
export function FindingList({ findings, children }: { findings: readonly Finding[]; children?(finding: Finding): React.ReactNode }) {
  const bench = useBench();
  const job = useJob();
  const surface = useSurface();
  const sorted = [...findings].sort((a, b) => ORDER[a.severity] - ORDER[b.severity]);
  const show = (f: Finding) => {
    bench.view.setState({ station: f.where.station });
    if (f.where.xMm !== undefined && f.where.turnDeg !== undefined) {
      bench.view.setState({ cursor: { x: f.where.xMm, y: fromTurnDeg(surface, f.where.turnDeg) } });
    }
    // The play goes to the moment, and with it both views and the line of the program.
    const danger = bench.view.getState().piece?.dangers.find((d) => d.finding === f);
    if (danger) bench.view.setState({ playing: false, playS: danger.timeS });
    if (f.where.id && job.inscriptions.some((i) => i.id === f.where.id)) selectOnly(bench, [f.where.id]);
  };
  return (
    <ul className="findings">
      {sorted.map((f, k) => (
        <li key={`${f.code}${f.where.id ?? ''}${k}`} className={f.severity} data-code={f.code}>
          <span className="weight">{WEIGHT[f.severity]}.</span> {f.text}. <span className="remedy">{f.remedy}.</span>
          {f.where.xMm !== undefined && f.where.turnDeg !== undefined && (
            <span className="figure d-block">
              at x {formatLength(f.where.xMm, job.units, 2)} {job.units}, {formatDeg(f.where.turnDeg, 1)}
            </span>
          )}
          <div className="d-flex gap-2 align-items-center">
            <Button variant="link" size="sm" className="p-0" onClick={() => show(f)}>
              Go there
            </Button>
            {f.code === 'mirrored' && job.inscriptions.some((i) => i.id === f.where.id && i.mirrored) && (
              <Button
                variant="link"
                size="sm"
                className="p-0"
                onClick={() =>
                  bench.edit('unmirror', (j) => ({
                    ...j,
                    inscriptions: j.inscriptions.map((i) => (i.id === f.where.id ? { ...i, mirrored: false } : i)),
                  }))
                }
              >
                Switch mirroring off
              </Button>
            )}
            {f.code === 'upside-down' && f.where.id && (
              <Button
                variant="link"
                size="sm"
                className="p-0"
                onClick={() =>
                  bench.edit(
                    'turn over',
                    changeEach([f.where.id!], (i) => ({ rotationDeg: i.rotationDeg > 0 ? i.rotationDeg - 180 : i.rotationDeg + 180 })),
                  )
                }
              >
                Turn it by 180°
              </Button>
            )}
            {f.code === 'font-changed' && f.where.id && (
              <Button
                variant="link"
                size="sm"
                className="p-0"
                onClick={() => bench.edit('take font', patchInscription(f.where.id!, { fontSha256: '' }))}
              >
                Take the new file
              </Button>
            )}
            {children?.(f)}
          </div>
        </li>
      ))}
    </ul>
  );
}
