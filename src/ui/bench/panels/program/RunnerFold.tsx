'use client';

import { useEffect, useMemo, useState } from 'react';
import { HouseIcon, PauseIcon, PlayIcon, PowerIcon, StopIcon } from '@phosphor-icons/react';
import Form from 'react-bootstrap/Form';
import type { Job } from '../../../../core/job/schema';
import { createKinematics } from '../../../../core/machine/registry';
import { createSetupOn, listRuns } from '../../../../core/pipeline/setup';
import type { Surface } from '../../../../core/surface/surface';
import { useSurface } from '../../../state/useSurface';
import { toProgram } from '../../programView';
import { findStrokeStart } from '../../../../core/program/beginHere';
import { beginProven } from '../../../../core/proof/begin';
import { toPartText, type Program } from '../../../../core/program/dialect';
import type { RunnerNews } from '../../../../core/runner/news';
import { RUNNER_FAULTS, type RunnerFault, type RunnerSetup } from '../../../../core/runner/protocol';
import type { PlanView } from '../../../../workers/planning.client';
import { Button } from '../../../common/Button';
import { formatCount } from '../../../common/format';
import { useBench, useJob } from '../../../state/benchStore';
import { orderRunner, useRunnerNews } from '../../../state/useRunner';

const SPEEDS = [1, 5, 20, 100];
const STATES = {
  off: 'is without power',
  alarm: 'stands with an alarm',
  idle: 'stands ready',
  run: 'runs',
  hold: 'is held',
  homing: 'is homing',
};
const JOGS = { linear: 5, rotary: 10 };

/** What is fed: the lines that stand for blocks of the plan. */
interface Fed {
  name: string;
  program: Pick<Program, 'partOfBlock' | 'lineOfBlock'>;
  part: number;
  /** Block that its first stroke begins with. */
  from: number;
}

/** The simulated machine, put away until it is wanted. */
export function RunnerFold({ plan, ready }: { plan: PlanView; ready: boolean }) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button size="sm" variant="link" className="p-0 mb-2 d-block" aria-expanded={open} onClick={() => setOpen(!open)}>
        {open ? 'Leave the simulated machine' : 'Run it on the simulated machine …'}
      </Button>
      {open && <Runner plan={plan} ready={ready} />}
    </>
  );
}

function Runner({ plan, ready }: { plan: PlanView; ready: boolean }) {
  const bench = useBench();
  const job = useJob();
  const news = useRunnerNews(true);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [fed, setFed] = useState<Fed | null>(null);
  const [part, setPart] = useState(0);
  const order = async (text: string): Promise<void> => setTrouble(await orderRunner({ do: 'command', text }));
  const status = news?.status ?? null;
  const isOwn = fed !== null && news?.feed?.name === fed.name;
  const block = isOwn && status ? findBlock(fed, news.feed!.fileLine) : -1;
  const running = status?.state === 'run' || status?.state === 'hold' || status?.state === 'off' || status?.state === 'alarm';
  const shownS =
    isOwn && running && block >= 0
      ? blockTime(plan, block - 1) + status.share * (blockTime(plan, block) - blockTime(plan, block - 1))
      : null;
  // Both views, the ladder and the text follow where the machine stands.
  useEffect(() => {
    if (shownS !== null) bench.view.setState({ playS: shownS, playing: false });
  }, [bench, shownS]);

  const surface = useSurface();
  const place = useMemo<RunnerSetup>(() => toRunnerSetup(job), [job]);
  const feed = async (name: string, text: string, own: Omit<Fed, 'name'>) => {
    setFed({ name, ...own });
    setTrouble(await orderRunner({ do: 'feed', name, text, setup: place }));
  };
  const parts = plan.program.parts;
  const chosen = parts[part] ?? parts[0]!;
  const run = () => feed(chosen.name, chosen.text, { program: plan.program, part: parts.indexOf(chosen), from: 0 });
  const lostAt =
    isOwn && block >= 0 && !status!.ended && (status!.state === 'off' || status!.state === 'alarm' || status!.state === 'idle')
      ? block
      : null;
  const again = async () => {
    const made = beginAgain(job, surface, plan, lostAt!);
    if (typeof made === 'string') return setTrouble(made);
    await feed(`${chosen.name} from line ${made.line}`, toPartText(made.program.parts[0]!), {
      program: made.program,
      part: 0,
      from: made.from,
    });
  };
  if (!news || news.link === 'down') return <NotThere why={news?.why ?? null} trouble={trouble} setTrouble={setTrouble} />;
  return (
    <section aria-label="The simulated machine" className="runner mb-3">
      <p className="mb-1" role="status">
        It {status ? STATES[status.state] : 'is there'}
        {status?.state === 'run' && status.spindleRpm !== 0 ? `, the spindle at ${formatCount(Math.abs(status.spindleRpm))} rev/min` : ''}
        {status && !status.isHomed && status.state === 'idle' ? '; home it first' : ''}.
      </p>
      {status && (
        <Positions
          news={news}
          canJog={status.state === 'idle' && status.isHomed}
          jog={(l, by) => void order(`jog ${l} ${by} F 1200`)}
          zero={(l) => void order(`zero ${l} 0`)}
        />
      )}
      <div className="d-flex gap-1 flex-wrap my-2">
        <Button size="sm" variant="outline-primary" disabled={status?.state !== 'idle'} onClick={() => void order('home')}>
          <HouseIcon size={14} /> Home
        </Button>
        <Button size="sm" disabled={!ready || status?.state !== 'idle' || !status.isHomed} onClick={() => void run()}>
          <PlayIcon size={14} /> Run the program
        </Button>
        {status?.state === 'hold' ? (
          <Button size="sm" variant="outline-primary" onClick={() => void order('resume')}>
            <PlayIcon size={14} /> {status.waits ? 'It is in: go on' : 'Resume'}
          </Button>
        ) : (
          <Button size="sm" variant="outline-primary" disabled={status?.state !== 'run'} onClick={() => void order('hold')}>
            <PauseIcon size={14} /> Hold
          </Button>
        )}
        <Button
          size="sm"
          variant="outline-primary"
          disabled={status?.state !== 'run' && status?.state !== 'hold'}
          onClick={() => void order('stop')}
        >
          <StopIcon size={14} /> Stop
        </Button>
        {status?.state === 'alarm' && (
          <Button size="sm" variant="outline-danger" onClick={() => void order('reset')}>
            Clear the alarm
          </Button>
        )}
        <Button size="sm" variant="outline-secondary" onClick={() => void order(status?.state === 'off' ? 'power on' : 'power off')}>
          <PowerIcon size={14} /> {status?.state === 'off' ? 'Power on' : 'Cut the power'}
        </Button>
      </div>
      {parts.length > 1 && (
        <Form.Select size="sm" aria-label="File to run" className="mb-2" value={part} onChange={(e) => setPart(Number(e.target.value))}>
          {parts.map((p, k) => (
            <option key={p.name} value={k}>
              {p.name}
            </option>
          ))}
        </Form.Select>
      )}
      <FeedLine news={news} />
      {[
        trouble,
        status?.alarm && `Alarm: ${status.alarm}.`,
        news.feed?.refusal && `It refused line ${news.feed.refusal.line}: ${news.feed.refusal.why}.`,
      ].map(
        (line) =>
          line && (
            <p key={line} role="alert" className="text-danger small mb-1">
              {line}
            </p>
          ),
      )}
      {lostAt !== null && (
        <div className="lost">
          <p className="mb-1">
            {status!.state === 'off' ? 'The power went' : 'It stopped'} at line {formatCount(news.feed!.fileLine + 1)} of {fed!.name}, at{' '}
            {listWords(job, plan, lostAt)}. What was cut until then is shown.
          </p>
          <Button size="sm" disabled={status!.state !== 'idle' || !status!.isHomed} onClick={() => void again()}>
            Begin again at that stroke
          </Button>
          {(status!.state !== 'idle' || !status!.isHomed) && (
            <p className="why mb-0">Power on, clear alarms and home it first; look whether the blank still stands as it did.</p>
          )}
        </div>
      )}
      <Form.Label className="mb-0 mt-2" htmlFor="runner-speed">
        So many times as fast
      </Form.Label>
      <Form.Select
        id="runner-speed"
        size="sm"
        className="mb-2"
        value={status?.speed ?? 1}
        onChange={(e) => void order(`speed ${e.target.value}`)}
      >
        {SPEEDS.map((v) => (
          <option key={v} value={v}>
            {v}
          </option>
        ))}
        {status && !SPEEDS.includes(status.speed) && <option value={status.speed}>{status.speed}</option>}
      </Form.Select>
      <div className="form-label">Troubles, to see what happens</div>
      {(Object.keys(RUNNER_FAULTS) as RunnerFault[]).map((name) => (
        <Form.Check
          key={name}
          id={`fault-${name}`}
          label={RUNNER_FAULTS[name]}
          checked={status?.faults.includes(name) ?? false}
          onChange={(e) => void order(`fault ${name} ${e.target.checked ? 'on' : 'off'}`)}
        />
      ))}
    </section>
  );
}

function NotThere({ why, trouble, setTrouble }: { why: string | null; trouble: string | null; setTrouble(line: string | null): void }) {
  const [starting, setStarting] = useState(false);
  const start = async () => {
    setStarting(true);
    setTrouble(await orderRunner({ do: 'start' }));
    setStarting(false);
  };
  return (
    <section aria-label="The simulated machine" className="runner mb-3">
      <p className="why mb-1">
        A machine that ships with Hobel, in place of a real one: it takes the program line by line, as a sender would give it.
      </p>
      <Button size="sm" disabled={starting} onClick={() => void start()}>
        <PowerIcon size={14} /> {starting ? 'Starting it…' : 'Start the simulated machine'}
      </Button>
      {why && !starting && <p className="why mb-0">Now {why}.</p>}
      {trouble && (
        <p role="alert" className="text-danger small mb-0">
          {trouble}
        </p>
      )}
    </section>
  );
}

/** Where each axis stands, and what jogs it. */
interface PositionsProps {
  news: RunnerNews;
  canJog: boolean;
  jog(letter: string, by: number): void;
  zero(letter: string): void;
}

function Positions({ news, canJog, jog, zero }: PositionsProps) {
  const { words, own } = news.status!;
  const differs = Object.keys(words).some((l) => Math.abs(words[l]! - own[l]!) > 0.0005);
  const show = (v: number): string => v.toFixed(3).replace('-', '−');
  return (
    <table className="figures positions">
      <tbody>
        {Object.keys(words).map((letter) => {
          const by = 'XYZ'.includes(letter) ? JOGS.linear : JOGS.rotary;
          return (
            <tr key={letter}>
              <th>{letter}</th>
              <td data-testid={`at-${letter}`}>{show(words[letter]!)}</td>
              {differs && <td className="text-secondary">{show(own[letter]!)}</td>}
              <td>
                {[-by, by].map((d) => (
                  <Button
                    key={d}
                    size="sm"
                    variant="link"
                    className="p-0 ms-2"
                    disabled={!canJog}
                    aria-label={`Jog ${letter} by ${d}`}
                    onClick={() => jog(letter, d)}
                  >
                    {d > 0 ? `+${d}` : `−${-d}`}
                  </Button>
                ))}
                <Button
                  size="sm"
                  variant="link"
                  className="p-0 ms-2"
                  disabled={!canJog}
                  title={`${letter} is to read 0 here: another work offset`}
                  aria-label={`${letter} reads 0 here`}
                  onClick={() => zero(letter)}
                >
                  = 0
                </Button>
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

function FeedLine({ news }: { news: RunnerNews }) {
  const { feed, status } = news;
  if (!feed || !status) return null;
  return (
    <div className="mb-2">
      <progress className="w-100" max={feed.count} value={Math.min(status.line, feed.count)} aria-label="Lines run" />
      <div className="small">
        {feed.name}: line {formatCount(status.line)} of {formatCount(feed.count)}
        {feed.acknowledged < feed.count ? `, ${formatCount(feed.acknowledged)} taken` : ''}
        {feed.again > 0 ? `, ${formatCount(feed.again)} sent again` : ''}
        {status.ended ? '; ended' : ''}
        {status.waits ? `; it waits for ${status.waits}` : ''}
      </div>
    </div>
  );
}

const blockTime = (plan: PlanView, block: number): number => (block < 0 ? 0 : (plan.blocks.timesS[block] ?? 0));

/** The block that a line of the file stands for, or the last before it. */
function findBlock({ program, part, from }: Fed, line: number): number {
  const { partOfBlock, lineOfBlock } = program;
  let found = -1;
  for (let i = from; i < lineOfBlock.length; i++) {
    if (partOfBlock[i] !== part) continue;
    if (lineOfBlock[i]! > line) break;
    found = i;
  }
  return found;
}

/** Where the axes were to stand at the end of a block. */
function listWords(job: Job, { blocks }: PlanView, block: number): string {
  const { axes } = createKinematics(job);
  return axes.map(({ letter }, k) => `${letter} ${blocks.values[axes.length * block + k]!.toFixed(3).replace('-', '−')}`).join(' ');
}

/** The machine, the blank and the longest cutter of a job, as the simulated machine wants them. */
function toRunnerSetup(job: Job): RunnerSetup {
  const gaugeMm = Math.max(0, ...listRuns(job).map(({ tool }) => tool.stickOutMm + tool.holderLengthMm));
  return { machine: job.machine, blank: job.blank, zero: job.zero, gaugeMm };
}

/** The program from the stroke of a block on, read back beside the whole one; or why there is none. */
function beginAgain(job: Job, surface: Surface, plan: PlanView, block: number): { program: Program; from: number; line: number } | string {
  const { laid, blocks: moves } = plan;
  const from = findStrokeStart({ laid, moves }, block);
  if (from === 0) return 'It had not come to a second stroke: run the whole program again.';
  const program = beginProven(createSetupOn(job, surface), { laid, moves }, toProgram(plan.program), from);
  if (!program) return 'Begun there, the program does not read back as the whole one does: report this, it is a defect.';
  return { program, from, line: plan.program.lineOfBlock[from]! + 1 };
}
