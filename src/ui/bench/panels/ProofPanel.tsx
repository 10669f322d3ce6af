'use client';

import type { Finding } from '../../../core/findings/finding';
import type { PlanView } from '../../../workers/planning.client';
import { formatDeg, formatLength } from '../../common/format';
import { toTurnDeg } from '../../../core/surface/surface';
import { useBench, useJob, useView } from '../../state/benchStore';
import { useSurface } from '../../state/useSurface';
import { Button } from '../../common/Button';
import type { RemovalState } from '../../state/useRemoval';
import type { Planning } from '../../state/usePlanning';
import { PieceProof } from './PieceProof';
import { FindingList } from '../FindingList';

interface Props {
  plan: PlanView | null;
  findings: readonly Finding[];
  planning: Planning;
  take: RemovalState['take'];
}

/** What the program would cut, against what was drawn. */
export function ProofPanel({ plan, findings, planning, take }: Props) {
  const bench = useBench();
  const job = useJob();
  const surface = useSurface();
  const piece = useView((v) => v.piece);
  const place = (at: readonly [number, number]) =>
    `x ${formatLength(at[0], job.units, 2)}, ${surface.round ? formatDeg(toTurnDeg(surface, at[1]), 1) : `y ${formatLength(at[1], job.units, 2)}`}`;
  const edge = plan?.edge;
  const curveUm = edge?.curveUm ?? 0;
  return (
    <>
      <h2>Proof</h2>
      {!plan && (
        <p className="why">
          {planning.progress ? 'Working it out…' : planning.stopped ? 'Planning was stopped.' : 'Waiting for the plan.'}
        </p>
      )}
      {plan && plan.laid.count === 0 && <p className="why">Nothing is cut yet, so there is nothing to prove.</p>}
      {plan && plan.laid.count > 0 && (
        <>
          <h3>Program read back against the plan</h3>
          <table className="figures">
            <tbody>
              <tr>
                <td>Tip, at most</td>
                <td>{plan.readBack.maxTipUm.toFixed(3)} µm</td>
              </tr>
              <tr>
                <td>Axis words, at most</td>
                <td>{plan.readBack.maxAxisUm.toFixed(3)} µm, 0.001°</td>
              </tr>
              <tr>
                <td>Block times, at most</td>
                <td>{(100 * plan.readBack.maxTimeRatio).toFixed(5)} %</td>
              </tr>
            </tbody>
          </table>
        </>
      )}
      {piece && piece.plan === plan && !piece.sketch && <PieceProof piece={piece} take={take} />}
      {edge && (
        <>
          <h3>Edge that is cut against the drawn curves</h3>
          <table className="figures">
            <tbody>
              <tr>
                <td>Cut outside, at most</td>
                <td>{edge.outsideCurvesUm.toFixed(2)} µm</td>
              </tr>
              <tr>
                <td>Left inside, 95 % within</td>
                <td>{(edge.uncut95Um + curveUm).toFixed(2)} µm</td>
              </tr>
              <tr>
                <td>Left inside, at most</td>
                <td>{edge.leftCurvesUm.toFixed(1)} µm</td>
              </tr>
              <tr>
                <td>there</td>
                <td>{place(edge.uncutAt)}</td>
              </tr>
            </tbody>
          </table>
          <p className="why">
            Measured at {edge.samples} places along the outlines and at their corners, on the curved surface; along curves up to{' '}
            {curveUm.toFixed(1)} µm of each figure is what the outlines may be off the letters’ own. A tip with a flat cannot run into sharp
            corners: what is left there is its doing.{' '}
            <Button
              size="sm"
              variant="link"
              className="p-0"
              onClick={() => bench.view.setState({ cursor: { x: edge.uncutAt[0], y: edge.uncutAt[1] } })}
            >
              Show the place
            </Button>
          </p>
        </>
      )}
      {plan && plan.unproved.length > 0 && (
        <>
          <h3>Without an edge to measure</h3>
          {plan.unproved.map((u) => (
            <p className="why" key={u.id}>
              {u.name}: {u.why}.
            </p>
          ))}
        </>
      )}
      <h3>Findings</h3>
      {findings.length === 0 ? (
        <p className="why">{plan ? 'None: nothing found that speaks against cutting.' : 'None so far.'}</p>
      ) : (
        <FindingList findings={findings} />
      )}
    </>
  );
}
