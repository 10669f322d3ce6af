'use client';

import { useEffect, useMemo, useRef, useState } from 'react';
import CodeMirror, { type ReactCodeMirrorRef } from '@uiw/react-codemirror';
import { Decoration, EditorView } from '@codemirror/view';
import { StateEffect, StateField, type Extension } from '@codemirror/state';
import Form from 'react-bootstrap/Form';
import { DownloadSimpleIcon } from '@phosphor-icons/react';
import type { Finding } from '../../../core/findings/finding';
import { toPartName } from '../../../core/program/dialect';
import type { PlanView } from '../../../workers/planning.client';
import { Button } from '../../common/Button';
import { FileButton } from '../../common/FileButton';
import { formatCount, formatLength, formatTime } from '../../common/format';
import { saveFile, toFileStem } from '../../common/saveFile';
import { useBench, useJob, useView } from '../../state/benchStore';
import type { Planning } from '../../state/usePlanning';
import { FindingList } from '../FindingList';
import { useToolPlace } from '../playhead';
import { countLines } from '../programView';

const setCurrentLine = StateEffect.define<number>();
const currentLine = StateField.define({
  create: () => Decoration.none,
  update(marks, tr) {
    for (const effect of tr.effects) {
      if (effect.is(setCurrentLine)) {
        const line = tr.state.doc.line(Math.min(tr.state.doc.lines, effect.value + 1));
        return Decoration.set([Decoration.line({ class: 'cm-current-block' }).range(line.from)]);
      }
    }
    return tr.docChanged ? Decoration.none : marks;
  },
  provide: (field) => EditorView.decorations.from(field),
});

/** The program, its figures, and the way out of the house. */
export function ProgramPanel({ plan, findings, planning }: { plan: PlanView | null; findings: readonly Finding[]; planning: Planning }) {
  const bench = useBench();
  const job = useJob();
  const accepted = useView((v) => v.accepted);
  const parts = plan?.program.parts ?? [];
  const spoiling = findings.filter((f) => f.severity === 'spoils');
  const keyOf = (f: Finding) => `${f.code}|${f.where.id ?? ''}|${f.text}`;
  const open = spoiling.filter((f) => !accepted.includes(keyOf(f)));
  const ready = plan !== null && plan.laid.count > 0 && open.length === 0;
  const download = () => {
    for (const p of parts) saveFile(toPartName(p, toFileStem(job.name, 'program')), p.text);
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
          <p className="why">
            {job.machine.cornerToleranceMm > 0
              ? `Corners are rounded by up to ${formatLength(job.machine.cornerToleranceMm, job.units)} ${job.units} to keep the pace (G64 P), on top of what the proof measures.`
              : 'Every corner is run out (G61).'}
          </p>
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

/** Largest program that is taken in, bytes. */
const MAX_PROGRAM_BYTES = 60e6;
/** Faults said one by one. */
const MAX_LISTED = 8;

/** A program from elsewhere, run on this blank; or the job's own. */
function Foreign({ base }: { base: PlanView }) {
  const bench = useBench();
  const wanted = useView((v) => v.foreign);
  const piece = useView((v) => (v.piece?.base === base ? v.piece : null));
  const [refusal, setRefusal] = useState<string | null>(null);
  const take = async ([file]: File[]) => {
    if (!file) return;
    if (file.size > MAX_PROGRAM_BYTES)
      return setRefusal(`${file.name} is ${Math.round(file.size / 1e6)} MB; up to ${MAX_PROGRAM_BYTES / 1e6} are taken.`);
    setRefusal(null);
    bench.view.setState({ foreign: { name: file.name, text: await file.text() }, playing: false, playS: Infinity, onlyRun: null });
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
        onFiles={(f) => void take(f)}
      >
        Prove a program from elsewhere
      </FileButton>
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
          {piece.dangers.length > 0 ? (
            <FindingList findings={piece.dangers.map((d) => d.finding)} />
          ) : (
            <p className="why">Nothing dangerous was found in what was read.</p>
          )}
        </section>
      )}
      <ProgramText plan={foreign && piece ? piece.plan : base} />
    </>
  );
}

/** The text of a program's files, the running block marked. */
function ProgramText({ plan }: { plan: PlanView }) {
  const job = useJob();
  const place = useToolPlace(plan);
  const editor = useRef<ReactCodeMirrorRef>(null);
  const extensions = useMemo<Extension[]>(
    // Not to be typed in, and still reached and read by keys.
    () => [currentLine, EditorView.editable.of(false), EditorView.contentAttributes.of({ tabindex: '0', 'aria-label': 'Program text' })],
    [],
  );
  const [picked, setPicked] = useState<{ part: number; playing: number } | null>(null);
  const playing = place ? plan.program.partOfBlock[place.block]! : 0;
  const { parts } = plan.program;
  // The part that runs is shown; another stays picked until the playhead goes on to the next.
  const chosen = picked?.playing === playing ? picked.part : playing;
  const part = parts[chosen] ?? parts[0];
  const line = place && playing === chosen ? plan.program.lineOfBlock[place.block]! : null;
  useEffect(() => {
    const view = editor.current?.view;
    if (!view || line === null) return;
    const from = view.state.doc.line(Math.min(view.state.doc.lines, line + 1)).from;
    view.dispatch({ effects: setCurrentLine.of(line) });
    // Not the editor's own scrolling, which would scroll the whole inspector away from under the hand as well.
    const { top, height } = view.lineBlockAt(from);
    view.scrollDOM.scrollTop = top + height / 2 - view.scrollDOM.clientHeight / 2;
  }, [line, plan]);

  return (
    <>
      {parts.length > 1 && (
        <Form.Select size="sm" aria-label="File" value={chosen} onChange={(e) => setPicked({ part: Number(e.target.value), playing })}>
          {parts.map((p, k) => (
            <option key={p.suffix} value={k}>
              {toPartName(p, toFileStem(job.name, 'program'))}
            </option>
          ))}
        </Form.Select>
      )}
      <div className="program-text" data-testid="program-text">
        <CodeMirror
          ref={editor}
          value={part?.text ?? ''}
          height="100%"
          extensions={extensions}
          readOnly
          basicSetup={{ foldGutter: false, highlightActiveLine: false, highlightActiveLineGutter: false }}
        />
      </div>
    </>
  );
}
