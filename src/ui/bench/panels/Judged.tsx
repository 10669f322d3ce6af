import type { VerdictView } from '../../../workers/planning.client';
import { Button } from '../../common/Button';
import { formatLength } from '../../common/format';
import { useBench, useJob } from '../../state/benchStore';

const FAULT_WORDS = {
  'too-deep': 'too deep',
  stands: 'cut, should stand',
  left: 'left',
  tab: 'tab missing',
  missing: 'nothing of it is cut',
  loose: 'comes loose',
} as const;
/** Whether a fault is of a thing as a whole, not so much too deep or left. */
const isWhole = ({ kind }: VerdictView['faults'][number]): boolean => kind === 'tab' || kind === 'missing' || kind === 'loose';

/** What was meant against what is cut: the worst places, each a click away. */
export function Judged({ verdict: { faults, slackMm } }: { verdict: VerdictView }) {
  const bench = useBench();
  const { units } = useJob();
  const show = ({ at: [x, y], timeS }: VerdictView['faults'][number]) =>
    bench.view.setState({ cursor: { x, y }, ...(timeS < Infinity ? { playing: false, playS: timeS } : {}) });
  if (faults.length === 0) {
    return (
      <p className="why" data-testid="verdict">
        As the job means it: nothing too deep and nothing left, to within {(1000 * slackMm).toFixed(0)} µm.
      </p>
    );
  }
  return (
    <table className="figures caption-top" data-testid="verdict">
      <caption className="why py-0">Not as the job means it, the worst first</caption>
      <thead>
        <tr>
          <th scope="col">Where</th>
          <th scope="col" className="text-end">
            by, {units}
          </th>
          <th scope="col" className="text-end">
            mm²
          </th>
        </tr>
      </thead>
      <tbody>
        {faults.map((f, k) => (
          <tr key={k}>
            <td>
              <Button size="sm" variant="link" className="p-0" onClick={() => show(f)}>
                {f.letter || f.cut}
              </Button>{' '}
              {FAULT_WORDS[f.kind]}
            </td>
            <td className="text-end">{isWhole(f) ? '–' : formatLength(Math.abs(f.depthMm - f.wantedMm), units)}</td>
            <td className="text-end">{f.kind === 'tab' ? '–' : f.areaMm2.toFixed(f.areaMm2 < 1 ? 2 : 1)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
