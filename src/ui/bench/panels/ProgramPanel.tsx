'use client';

import { useEffect, useState } from 'react';
import Form from 'react-bootstrap/Form';
import { DownloadSimpleIcon } from '@phosphor-icons/react';
import type { Finding } from '../../../core/findings/finding';
import type { Job } from '../../../core/job/schema';
import { saysCorners } from '../../../core/program/dialect';
import { DIALECTS } from '../../../core/program/registry';
import { LINES_A_MARK, type LetteringView, type PlanView } from '../../../workers/planning.client';
import { Button } from '../../common/Button';
import { FileButton } from '../../common/FileButton';
import { formatCount, formatLength, formatTime } from '../../common/format';
import { saveFile } from '../../common/saveFile';
import { useBench, useJob, useView } from '../../state/benchStore';
import type { Planning } from '../../state/usePlanning';
import type { RemovalState } from '../../state/useRemoval';
import { FindingList } from '../FindingList';
import { useToolPlace } from '../playhead';
import { Judged } from './Judged';
import { countLines } from '../programView';
import { AtTheMachine, SheetButton } from './program/AtTheMachine';
import { LastDownload, useLastDownload } from './program/LastDownload';
import { LateProgramText } from './program/LateTexts';

/** The program, its figures, and the way out of the house. */
export function ProgramPanel({
  plan,
  lettering,
  findings,
  planning,
  removal,
}: {
  plan: PlanView | null;
  lettering: LetteringView | null;
  findings: readonly Finding[];
  planning: Planning;
  removal: RemovalState;
}) {
  const bench = useBench();
  const job = useJob();
  const accepted = useView((v) => v.accepted);
  const parts = plan?.program.parts ?? [];
  const { last, keep } = useLastDownload(plan);
  const spoiling = findings.filter((f) => f.severity === 'spoils');
  const keyOf = (f: Finding) => `${f.code}|${f.where.id ?? ''}|${f.text}`;
  const open = spoiling.filter((f) => !accepted.includes(keyOf(f)));
  // Dangers are known once the program was run on the blank; if that fails, the page says so.
  const isProven = useView((v) => v.piece?.base === plan && v.piece.planned.isWhole);
  const isProving = !isProven && removal.failure === null;
  const ready = plan !== null && plan.laid.count > 0 && open.length === 0 && !isProving;
  const download = () => {
    for (const p of parts) saveFile(p.name, p.text);
    keep();
  };
  return (
    <>
      <h2>Program</h2>
      {!plan && (
        <p className="why">
          {planning.progress ? 'Working it out…' : planning.stopped ? 'Planning was stopped.' : 'Waiting for the plan.'}
        </p>
      )}
      {plan && plan.laid.count === 0 && <p className="why">Nothing to cut: add lettering and a cut that takes it.</p>}
      {plan && plan.laid.count > 0 && (
        <>
          <table className="figures">
            <tbody>
              <tr>
                <td>Time on {job.machine.name}</td>
                <td data-testid="machine-time">{formatTime(plan.timeS + plan.standingS)}</td>
              </tr>
              {plan.standingS > 0 && (
                <tr>
                  <td>of it changes and run-up</td>
                  <td>{formatTime(plan.standingS)}</td>
                </tr>
              )}
              <tr>
                <td>if it stops at every corner</td>
                <td>{formatTime(plan.stopTimeS + plan.standingS)}</td>
              </tr>
              <tr>
                <td>Lines</td>
                <td>{formatCount(countLines(plan.program))}</td>
              </tr>
              <tr>
                <td>Read back, tip within</td>
                <td data-testid="read-back">{plan.readBack.maxTipUm.toFixed(3)} µm</td>
              </tr>
            </tbody>
          </table>
          <p className="why">{describeCorners(job)}</p>
          {spoiling.length > 0 && (
            <>
              <h3>Before it may leave</h3>
              <FindingList findings={spoiling}>
                {(f) => (
                  <Form.Check
                    id={`accept-${keyOf(f)}`}
                    label="I know; cut it so"
                    checked={accepted.includes(keyOf(f))}
                    onChange={(e) =>
                      bench.view.setState({ accepted: e.target.checked ? [...accepted, keyOf(f)] : accepted.filter((k) => k !== keyOf(f)) })
                    }
                  />
                )}
              </FindingList>
            </>
          )}
          <Button className="w-100 my-2" disabled={!ready} onClick={download} data-testid="download">
            <DownloadSimpleIcon size={15} /> Download the program
          </Button>
          <LastDownload plan={plan} last={last} />
          <SheetButton plan={plan} lettering={lettering} ready={ready} />
          <AtTheMachine plan={plan} lettering={lettering} ready={ready} />
          {isProving && <p className="why">The program is being run on the blank: it may leave when its dangers are known.</p>}
          {!isProving && !isProven && <p className="why wrong-text text-danger">{removal.failure}</p>}
          {open.length > 0 && (
            <p className="why">
              {open.length === 1 ? 'One finding' : `${open.length} findings`} would spoil the piece: mend{' '}
              {open.length === 1 ? 'it' : 'them'} or say that you know.
            </p>
          )}
          <Foreign base={plan} />
        </>
      )}
    </>
  );
}

/** How the control is to run corners, and who tells it. */
function describeCorners({ machine, units }: Job): string {
  const { cornerToleranceMm, dialect } = machine;
  const round = cornerToleranceMm > 0;
  const by = `${formatLength(cornerToleranceMm, units)} ${units}`;
  if (!saysCorners(DIALECTS[dialect]))
    return round
      ? `Set the control to round corners by up to ${by}: this dialect has no word for it, and the times are worked out so.`
      : 'Set the control to run every corner out: this dialect has no word for it.';
  return round
    ? `Corners are rounded by up to ${by} to keep the pace (G64 P), on top of what the proof measures.`
    : 'Every corner is run out (G61).';
}

/** Largest program that is taken in, bytes. */
const MAX_PROGRAM_BYTES = 60e6;
/** One that ships, made to be found fault with. */
const FAULTY_PROGRAM = 'collar-with-faults.nc';
/** Faults said one by one. */
const MAX_LISTED = 8;

/** A program from elsewhere, run on this blank; or the job's own. */
function Foreign({ base }: { base: PlanView }) {
  const bench = useBench();
  const wanted = useView((v) => v.foreign);
  const piece = useView((v) => (v.piece?.base === base ? v.piece : null));
  const [refusal, setRefusal] = useState<string | null>(null);
  const take = ([file]: File[]) => {
    if (!file) return;
    if (file.size > MAX_PROGRAM_BYTES)
      return setRefusal(`${file.name} is ${Math.round(file.size / 1e6)} MB; up to ${MAX_PROGRAM_BYTES / 1e6} are taken.`);
    setRefusal(null);
    bench.view.setState({ foreign: { name: file.name, file }, playing: false, playS: Infinity, onlyRun: null });
  };
  const takeFaulty = async () => {
    const answer = await fetch(`/resources/${FAULTY_PROGRAM}`);
    if (!answer.ok) return setRefusal(`${FAULTY_PROGRAM} could not be loaded (${answer.status}).`);
    take([new File([await answer.blob()], FAULTY_PROGRAM)]);
  };
  const foreign = wanted && piece?.foreign ? piece.foreign : null;
  return (
    <>
      <FileButton
        accept=".nc,.ngc,.tap,.cnc,.gcode,.txt"
        label="Program from elsewhere"
        variant="outline-primary"
        size="sm"
        className="w-100 mb-2"
        onFiles={take}
      >
        Prove a program from elsewhere
      </FileButton>
      {!wanted && (
        <p className="why">
          <Button size="sm" variant="link" className="p-0" onClick={() => void takeFaulty()}>
            See one that is full of faults
          </Button>{' '}
          and what is found in it; it is made for the rain gauge.
        </p>
      )}
      {refusal && (
        <p className="wrong-text text-danger small" role="alert">
          {refusal}
        </p>
      )}
      {wanted && !foreign && <p className="why">Running {wanted.name} on this blank…</p>}
      {foreign && piece && (
        <section aria-label="Program from elsewhere" data-testid="foreign">
          <p className="why">
            Shown is <strong>{foreign.name}</strong>, run on this blank with the tools of this job. What leaves the house is still the job’s
            own.{' '}
            <Button size="sm" variant="link" className="p-0" onClick={() => bench.view.setState({ foreign: null, playS: Infinity })}>
              Back to the job’s own
            </Button>
          </p>
          {foreign.faults.length > 0 && (
            <ul className="findings">
              {foreign.faults.slice(0, MAX_LISTED).map((f, k) => (
                <li key={k} className="spoils">
                  <span className="weight">Not read.</span> Line {f.line + 1}: {f.text}.
                </li>
              ))}
              {foreign.faults.length > MAX_LISTED && <li className="spoils">and {foreign.faults.length - MAX_LISTED} more lines.</li>}
            </ul>
          )}
          {foreign.notes.map((note) => (
            <p className="why" key={note}>
              {note[0]!.toUpperCase() + note.slice(1)}.
            </p>
          ))}
          {piece.verdict && <Judged verdict={piece.verdict} />}
          {piece.dangers.length > 0 ? (
            <FindingList findings={piece.dangers.map((d) => d.finding)} />
          ) : (
            <p className="why">Nothing dangerous was found in what was read.</p>
          )}
        </section>
      )}
      {foreign && piece ? <LongText plan={piece.plan} file={foreign.file} starts={foreign.lineStarts} /> : <PartTexts plan={base} />}
    </>
  );
}

/** The text of a program's files, the running block marked. */
function PartTexts({ plan }: { plan: PlanView }) {
  const place = useToolPlace(plan);
  const [picked, setPicked] = useState<{ part: number; playing: number } | null>(null);
  const playing = place ? plan.program.partOfBlock[place.block]! : 0;
  const { parts } = plan.program;
  // The part that runs is shown; another stays picked until the playhead goes on to the next.
  const chosen = picked?.playing === playing ? picked.part : playing;
  const part = parts[chosen] ?? parts[0];
  return (
    <>
      {parts.length > 1 && (
        <Form.Select size="sm" aria-label="File" value={chosen} onChange={(e) => setPicked({ part: Number(e.target.value), playing })}>
          {parts.map((p, k) => (
            <option key={p.name} value={k}>
              {p.name}
            </option>
          ))}
        </Form.Select>
      )}
      <LateProgramText text={part?.text ?? ''} line={place && playing === chosen ? plan.program.lineOfBlock[place.block]! : null} />
    </>
  );
}

/** Marks of a long text that are shown at once. */
const MARKS_SHOWN = 3;

/** A text that may be long: some thousand lines about the running block, read from its file as they are needed. */
function LongText({ plan, file, starts }: { plan: PlanView; file: Blob; starts: Float64Array }) {
  const place = useToolPlace(plan);
  const line = place ? plan.program.lineOfBlock[place.block]! : null;
  const last = Math.max(0, starts.length - MARKS_SHOWN);
  const own = line === null ? 0 : Math.min(last, Math.max(0, Math.round(line / LINES_A_MARK) - 1));
  const [turned, setTurned] = useState<{ by: number; own: number } | null>(null);
  // Turned to other pages, it stays there until the playhead leaves the page it was on.
  const mark = turned?.own === own ? Math.min(last, Math.max(0, own + turned.by)) : own;
  const [shown, setShown] = useState<{ mark: number; text: string } | null>(null);
  useEffect(() => {
    let wanted = true;
    void file
      .slice(starts[mark], starts[mark + MARKS_SHOWN] ?? file.size)
      .text()
      .then((text) => wanted && setShown({ mark, text }));
    return () => {
      wanted = false;
    };
  }, [file, starts, mark]);
  const turn = (by: number) => setTurned({ own, by: mark + by - own });
  const first = (shown?.mark ?? 0) * LINES_A_MARK;
  return (
    <>
      {last > 0 && (
        <p className="why d-flex gap-2 align-items-center mb-1">
          <span className="flex-grow-1">Lines from {formatCount(first + 1)}</span>
          <Button size="sm" variant="outline-primary" disabled={mark === 0} onClick={() => turn(1 - MARKS_SHOWN)}>
            Before
          </Button>
          <Button size="sm" variant="outline-primary" disabled={mark === last} onClick={() => turn(MARKS_SHOWN - 1)}>
            After
          </Button>
        </p>
      )}
      <LateProgramText text={shown?.text ?? ''} first={first} line={line === null || shown?.mark !== mark ? null : line - first} />
    </>
  );
}
