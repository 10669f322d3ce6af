'use client';

import { useState } from 'react';
import { TrashIcon } from '@phosphor-icons/react';
import { MAX_TRIALS, type Trial } from '../../../../core/job/schema';
import type { SetFigures } from '../../../../core/suggest/suggest';
import type { LetteringView, PlanView } from '../../../../workers/planning.client';
import { Button } from '../../../common/Button';
import { formatLength, formatTime } from '../../../common/format';
import { TextField } from '../../../common/fields';
import { freeId, useBench, useJob } from '../../../state/benchStore';
import { cutTrial } from '../../../state/otherPiece';
import type { Suggesting } from '../../../state/useSuggest';

interface Props {
  suggesting: Suggesting;
  plan: PlanView | null;
  lettering: LetteringView | null;
}

/** Other ways to cut the same lettering, kept beside the cuts that the program is made of. */
export function TrialsPanel({ suggesting, plan, lettering }: Props) {
  const bench = useBench();
  const job = useJob();
  const [figures, setFigures] = useState<{ of: typeof job.trials; cuts: typeof job.cuts; list: SetFigures[] } | null>(null);
  const [looking, setLooking] = useState<string | null>(null);
  const { trials } = job;
  const keepNow = () =>
    bench.edit('trial#now', (j) => ({
      ...j,
      trials: [...j.trials, { id: freeId(j.trials, 'trial'), name: `Trial ${j.trials.length + 1}`, cuts: j.cuts }],
    }));
  const compare = async () => {
    const answer = await suggesting.ask({ kind: 'trials' });
    if (answer) setFigures({ of: job.trials, cuts: job.cuts, list: answer.figures });
  };
  /** The cuts of a trial take the place of those there are, which become a trial in its place. */
  const swap = (trial: Trial) =>
    bench.edit(`swap#${trial.id}`, (j) => ({
      ...j,
      cuts: trial.cuts,
      trials: j.trials.map((t) => (t.id === trial.id ? { ...t, name: `Before ${t.name}`.slice(0, 120), cuts: j.cuts } : t)),
    }));
  const look = async (trial: Trial) => {
    if (!plan || !lettering) return;
    setLooking(trial.id);
    const other = await cutTrial(job, lettering, plan, trial, suggesting.ask);
    setLooking(null);
    if (other) bench.view.setState({ other, wipeShare: 0.5, engraved: true });
  };
  const patch = (id: string, change: Partial<Trial>) =>
    bench.edit(`trial ${id} ${Object.keys(change).join()}`, (j) => ({
      ...j,
      trials: j.trials.map((t) => (t.id === id ? { ...t, ...change } : t)),
    }));
  const remove = (id: string) => bench.edit(`remove#${id}`, (j) => ({ ...j, trials: j.trials.filter((t) => t.id !== id) }));
  const fresh = figures && figures.of === trials && figures.cuts === job.cuts ? figures.list : null;
  return (
    <>
      <h3>Trials</h3>
      <div className="d-flex gap-2">
        <Button size="sm" variant="outline-primary" disabled={job.cuts.length === 0 || trials.length >= MAX_TRIALS} onClick={keepNow}>
          Keep these cuts as a trial
        </Button>
        {trials.length > 0 && (
          <Button size="sm" variant="outline-primary" disabled={suggesting.progress !== null} onClick={() => void compare()}>
            Compare
          </Button>
        )}
      </div>
      {trials.map((trial) => (
        <div key={trial.id} className="d-flex gap-2 align-items-end mt-1">
          <div className="flex-grow-1">
            <TextField label="Trial" value={trial.name} maxLength={120} onValue={(name) => patch(trial.id, { name })} />
          </div>
          <Button
            size="sm"
            variant="link"
            className="p-0 pb-1"
            disabled={!plan || looking !== null}
            title="Shows the piece as this trial would leave it beside the piece as it is, with a line to drag between the two"
            onClick={() => void look(trial)}
          >
            {looking === trial.id ? 'Cutting …' : 'Beside'}
          </Button>
          <Button size="sm" variant="link" className="p-0 pb-1" onClick={() => swap(trial)}>
            Cut it so
          </Button>
          <Button
            size="sm"
            variant="link"
            className="p-0 pb-1 text-secondary"
            aria-label={`Remove ${trial.name}`}
            onClick={() => remove(trial.id)}
          >
            <TrashIcon size={14} />
          </Button>
        </div>
      ))}
      {fresh && <Figures names={['These cuts', ...trials.map((t) => t.name)]} list={fresh} />}
    </>
  );
}

const ROWS: readonly [string, (f: SetFigures, units: 'mm' | 'in') => string][] = [
  ['Time', (f) => formatTime(f.timeS)],
  ['Lines', (f) => String(f.lines)],
  ['Levels', (f) => String(f.levels)],
  ['Deepest', (f, units) => formatLength(f.deepestMm, units)],
  ['Not reached, mm²', (f) => f.unreachedMm2.toFixed(2)],
  ['Edge outside, µm', (f) => f.maxOutsideUm?.toFixed(1) ?? '–'],
  ['Edge left, 95 %, µm', (f) => f.uncut95Um?.toFixed(1) ?? '–'],
  ['Cut length', (f, units) => formatLength(f.cutLengthMm, units, 0)],
  ['Changes of cutter', (f) => String(f.changes)],
];

function Figures({ names, list }: { names: readonly string[]; list: readonly SetFigures[] }) {
  const { units } = useJob();
  return (
    <div style={{ overflowX: 'auto' }}>
      <table className="list mt-2" data-testid="trial-figures">
        <thead>
          <tr>
            <th />
            {names.map((name, k) => (
              <th key={k}>{name}</th>
            ))}
          </tr>
        </thead>
        <tbody>
          {ROWS.map(([label, show]) => (
            <tr key={label}>
              <td>{label}</td>
              {list.map((f, k) => (
                <td key={k} className="num">
                  {show(f, units)}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
