'use client';

import { countLines } from './programView';
import type { Finding, Severity } from '../../core/findings/finding';
import type { Job } from '../../core/job/schema';
import { getTitle } from '../../core/job/title';
import { formatCount, formatDeg, formatLength, formatTime } from '../common/format';
import { STATIONS, useBench, useView, type StationName } from '../state/benchStore';
import type { LetteringView, PlanView } from '../../workers/planning.client';
import { describeBlank } from '../../core/job/blankText';
import { getEffectiveLay } from '../../core/lay/layMap';
import { toTurnDeg, type Surface } from '../../core/surface/surface';
import { useSurface } from '../state/useSurface';

interface Props {
  job: Job;
  lettering: LetteringView | null;
  plan: PlanView | null;
  stale: boolean;
  findings: readonly Finding[];
}

const TITLES: Record<StationName, string> = {
  blank: 'Blank',
  lettering: 'Lettering',
  lay: 'Lay',
  cuts: 'Cuts',
  proof: 'Proof',
  program: 'Program',
};
const WEIGHTS: readonly Severity[] = ['spoils', 'warns', 'notes'];
const SEVERITY_WORDS: Record<Severity, string> = { spoils: 'would spoil the piece', warns: 'to look at', notes: 'to know' };

/** The six stations in the order of the work, each with its key figures and its findings. */
export function Route({ job, lettering, plan, stale, findings }: Props) {
  const bench = useBench();
  const here = useView((v) => v.station);
  const surface = useSurface();
  return (
    <nav className="route" aria-label="Stations">
      {STATIONS.map((station, k) => {
        const own = findings.filter((f) => f.where.station === station);
        const figures = getFigures(station, job, lettering, plan, stale, surface);
        return (
          <button
            key={station}
            type="button"
            className={`station${station === here ? ' here' : ''}`}
            aria-current={station === here ? 'step' : undefined}
            onClick={() => bench.view.setState({ station })}
          >
            <span className="title">
              {TITLES[station]} <span className="key">{k + 1}</span>
              {WEIGHTS.map((w) => {
                const n = own.filter((f) => f.severity === w).length;
                return (
                  n > 0 && (
                    <span key={w} className={`count ${w}`} title={`${n} ${SEVERITY_WORDS[w]}`}>
                      {n}
                    </span>
                  )
                );
              })}
            </span>
            <span className="figures" title={figures}>
              {figures}
            </span>
          </button>
        );
      })}
    </nav>
  );
}

function getFigures(
  station: StationName,
  job: Job,
  lettering: LetteringView | null,
  plan: PlanView | null,
  stale: boolean,
  surface: Surface,
): string {
  const mm = (v: number, digits?: number) => formatLength(v, job.units, digits);
  const waiting = stale || !plan;
  switch (station) {
    case 'blank':
      return `${describeBlank(job.blank, mm, job.units)} ${job.material}`;
    case 'lettering': {
      const first = job.inscriptions[0];
      if (!first) return 'none yet';
      const more = job.inscriptions.length - 1;
      const size = first.kind === 'artwork' ? '' : ` ${mm(first.heightMm)} ${job.units}`;
      // Isolated, so that words written from the right leave the figures where they are.
      return `“\u2068${first.kind === 'text' ? first.text.split('\n')[0] : getTitle(first)}\u2069”${size}${more ? ` and ${more} more` : ''}`;
    }
    case 'lay': {
      const boxes = (lettering?.inscriptions ?? []).map((i) => i.box).filter((b) => b.minX <= b.maxX);
      const kind = getEffectiveLay(job.lay, surface);
      const lay = kind === 'level' && job.lay.letters === 'bent' ? 'level, bent' : kind;
      if (!boxes.length) return lay;
      const span = Math.max(...boxes.map((b) => b.maxY)) - Math.min(...boxes.map((b) => b.minY));
      if (!surface.round)
        return `${lay}, ${mm(Math.max(...boxes.map((b) => b.maxX)) - Math.min(...boxes.map((b) => b.minX)), 1)} × ${mm(span, 1)} ${job.units}`;
      return `${lay}, ${formatDeg(toTurnDeg(surface, span), 0)}${surface.periodMm === null ? '' : ' of 360°'}`;
    }
    case 'cuts': {
      const n = job.cuts.filter((c) => c.enabled).length;
      if (!n) return 'none yet';
      const levels = plan?.cuts.reduce((sum, c) => sum + c.levelsMm.length, 0) ?? 0;
      return `${n} cut${n > 1 ? 's' : ''}${waiting ? '' : `, ${levels} level${levels === 1 ? '' : 's'}`}`;
    }
    case 'proof':
      if (waiting || !plan.laid.count) return '–';
      return plan.edge ? `95 % of the edge within ${Math.max(0.1, plan.edge.uncut95Um).toFixed(1)} µm` : 'read back';
    case 'program':
      if (waiting || !plan.laid.count) return '–';
      return `${formatCount(countLines(plan.program))} lines, ${formatTime(plan.timeS + plan.standingS)}`;
  }
}
