'use client';

import { useState } from 'react';
import { DownloadSimpleIcon, FilePdfIcon } from '@phosphor-icons/react';
import { toFileStem } from '../../../../core/base/fileStem';
import { toPaperWrap } from '../../../../core/export/paperWrap';
import { toSetupDrawing } from '../../../../core/export/setupDrawing';
import { getZeroPlace } from '../../../../core/job/zero';
import { createKinematics } from '../../../../core/machine/registry';
import { listRuns } from '../../../../core/pipeline/setup';
import { findStrokeStart, proveBegin, writeFrom } from '../../../../core/program/beginHere';
import { getSplit, toPartName, toPartText, type Program, type ProgramInput } from '../../../../core/program/dialect';
import { proveDryRun, toDryRun } from '../../../../core/program/dryRun';
import { OUTLINE_HEIGHT_MM, type LetteringView, type PlanView } from '../../../../workers/planning.client';
import { Button } from '../../../common/Button';
import { formatLengthUnit, formatTime } from '../../../common/format';
import { QuantityField } from '../../../common/QuantityField';
import { saveFile } from '../../../common/saveFile';
import { useJob } from '../../../state/benchStore';
import { useSurface } from '../../../state/useSurface';
import { useToolPlace } from '../../playhead';

/** Lift of a dry run unless another is typed, mm. */
const DRY_LIFT_MM = 20;
/** A dry run keeps at least this far off the blank, mm. */
const DRY_CLEAR_MM = 1;

/** The same program lifted, with the spindle still: for a look at the machine. It may leave before what would spoil the piece is mended. */
function DryRun({ plan }: { plan: PlanView }) {
  const job = useJob();
  const surface = useSurface();
  const [liftMm, setLiftMm] = useState(DRY_LIFT_MM);
  const [told, setTold] = useState<{ wrong: boolean; text: string } | null>(null);
  const length = (mm: number) => formatLengthUnit(mm, job.units);
  const make = () => {
    const texts = toDryRun(
      plan.program.parts.map((p) => p.text),
      job.machine,
      liftMm,
    );
    const { leastMm, topMm, still, faults } = proveDryRun(texts, job, surface);
    if (!still)
      return setTold({ wrong: true, text: 'A block of the machine’s own starts the spindle: take that out of it for a dry run.' });
    if (faults > 0) return setTold({ wrong: true, text: 'The dry run does not read back: report this, it is a defect of Hobel.' });
    if (leastMm < DRY_CLEAR_MM) {
      const wanted = Math.ceil(liftMm + DRY_CLEAR_MM - leastMm);
      const how = leastMm < 0 ? `${length(-leastMm)} into the blank` : `within ${length(leastMm)} of the blank`;
      return setTold({ wrong: true, text: `Lifted by ${length(liftMm)} it would come ${how}: lift it by ${length(wanted)} or more.` });
    }
    plan.program.parts.forEach((p, k) => saveFile(toPartName(p, `${toFileStem(job.name, 'program')}-dry`), texts[k]!));
    setTold({ wrong: false, text: `Read back, it stays ${length(leastMm)} off the blank and goes up to Z ${length(topMm)}.` });
  };
  const takeOutline = () => {
    const { leastMm, still, faults } = proveDryRun([plan.outlineRun!], job, surface);
    if (!still || faults > 0 || leastMm < DRY_CLEAR_MM)
      return setTold({ wrong: true, text: `The outline run would come within ${length(leastMm)} of the blank: take a dry run instead.` });
    saveFile(toPartName({ suffix: '' }, `${toFileStem(job.name, 'program')}-outline`), plan.outlineRun!);
    setTold({ wrong: false, text: `Once round the lettering, spindle still; read back, it stays ${length(leastMm)} off the blank.` });
  };
  return (
    <section aria-label="Runs for a look" className="mb-2">
      <div className="d-flex gap-2 align-items-end">
        <QuantityField label="Dry run lifted by" kind="length" value={liftMm} units={job.units} onValue={(v) => takeLift(v, setLiftMm)} />
        <Button variant="outline-primary" size="sm" className="text-nowrap" onClick={make}>
          <DownloadSimpleIcon size={15} /> Dry run
        </Button>
        <Button
          variant="outline-primary"
          size="sm"
          className="text-nowrap"
          disabled={plan.outlineRun === null}
          title={`Once round the lettering, ${length(OUTLINE_HEIGHT_MM)} over the blank, spindle still`}
          onClick={takeOutline}
        >
          <DownloadSimpleIcon size={15} /> Outline run
        </Button>
      </div>
      {told && (
        <p className={told.wrong ? 'wrong-text text-danger small' : 'why'} role={told.wrong ? 'alert' : 'status'}>
          {told.text}
        </p>
      )}
    </section>
  );
}

/** The program from the stroke on at which the tool stands: after a break, or once the first strokes are cut. */
function BeginHere({ plan, ready }: { plan: PlanView; ready: boolean }) {
  const job = useJob();
  const place = useToolPlace(plan);
  const [told, setTold] = useState<{ wrong: boolean; text: string } | null>(null);
  const { laid, blocks } = plan;
  const from = place && blocks.count > 0 ? findStrokeStart({ laid, moves: blocks }, place.block) : 0;
  const runs = listRuns(job);
  const run = runs[laid.run[blocks.move[from] ?? 0]!];
  const line = (plan.program.lineOfBlock[from] ?? 0) + 1;
  const make = () => {
    const input: ProgramInput = { job, kinematics: createKinematics(job), laid, moves: blocks, runs };
    const begun = writeFrom(input, getSplit(job.machine), from);
    const whole: Program = {
      ...plan.program,
      parts: plan.program.parts.map((p) => ({ suffix: p.suffix, lines: p.text.trimEnd().split('\n') })),
    };
    const { same, safe, faults } = proveBegin(input, whole, begun);
    if (!same || !safe || faults > 0)
      return setTold({
        wrong: true,
        text: 'Begun here, the program does not read back as the whole one does: report this, it is a defect.',
      });
    for (const p of begun.parts) saveFile(toPartName(p, `${toFileStem(job.name, 'program')}-from-line-${line}`), toPartText(p));
    const left = formatTime(plan.timeS - (blocks.timesS[from - 1] ?? 0));
    setTold({ wrong: false, text: `Read back, it cuts what the whole program cuts from line ${line} on: about ${left}.` });
  };
  return (
    <section aria-label="Begin here" className="mb-2">
      <Button variant="outline-primary" size="sm" className="w-100" disabled={!ready || from === 0} onClick={make}>
        <DownloadSimpleIcon size={15} /> From this stroke on
      </Button>
      <p
        className={told?.wrong ? 'wrong-text text-danger small mb-0' : 'why mb-0'}
        role={told ? (told.wrong ? 'alert' : 'status') : undefined}
      >
        {told
          ? told.text
          : from === 0
            ? 'Put the tool at a stroke, by the ladder or the play, to take the program from there on.'
            : `Where the tool stands: line ${line}${run ? `, in "${run.cut.name}"` : ''}. It goes up first, across, and down there.`}
      </p>
    </section>
  );
}

/** Takes a lift; says why not. */
function takeLift(mm: number, take: (mm: number) => void): string | null {
  if (!(mm > 0 && mm <= MAX_DRY_LIFT_MM)) return `must be more than 0 and at most ${MAX_DRY_LIFT_MM} mm`;
  take(mm);
  return null;
}
const MAX_DRY_LIFT_MM = 500;

const WRAP_REFUSALS = {
  notFlat: 'This blank’s skin cannot be laid flat, so no paper goes round it without folds: print the sheet of a cylinder or a cone.',
  tooLarge: 'The paper would be longer than a PDF can say: print the unrolled sheet in parts instead.',
};

interface AtTheMachineProps {
  plan: PlanView;
  lettering: LetteringView | null;
  ready: boolean;
}

/** What is taken for a look before the first cut, or after a break: put away, so that the program's text is in sight. */
export function AtTheMachine({ plan, lettering, ready }: AtTheMachineProps) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button size="sm" variant="link" className="p-0 mb-2" aria-expanded={open} onClick={() => setOpen(!open)}>
        {open ? 'Put these away' : 'Paper, dry run, outline run, from a stroke on …'}
      </Button>
      {open && (
        <>
          <WrapButton lettering={lettering} />
          <DryRun plan={plan} />
          <BeginHere plan={plan} ready={ready} />
        </>
      )}
    </>
  );
}

/** Paper in true size to hold round the blank, as a PDF. */
function WrapButton({ lettering }: { lettering: LetteringView | null }) {
  const job = useJob();
  const surface = useSurface();
  const [state, setState] = useState<{ busy: boolean; refusal: string | null }>({ busy: false, refusal: null });
  const takeWrap = async () => {
    const made = toPaperWrap(surface, lettering!.artworks, job.name, getZeroPlace(job.blank, job.zero).turnDeg);
    if (!made.ok) return setState({ busy: false, refusal: WRAP_REFUSALS[made.error.kind] });
    setState({ busy: true, refusal: null });
    try {
      const answer = await fetch('/api/wrap', {
        method: 'POST',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify({ ...made.value, title: job.name }),
      });
      if (!answer.ok) throw new Error(((await answer.json()) as { text: string }).text);
      saveFile(`${toFileStem(job.name, 'program')}-wrap.pdf`, await answer.blob());
      setState({ busy: false, refusal: null });
    } catch (error) {
      setState({ busy: false, refusal: `The paper could not be made: ${(error as Error).message}. Try it again; the job is as it was.` });
    }
  };
  return (
    <>
      <Button
        variant="outline-primary"
        size="sm"
        className="w-100 mb-2"
        disabled={!lettering || state.busy}
        title="In true size, to hold round the real blank before anything is cut"
        onClick={() => void takeWrap()}
      >
        <FilePdfIcon size={15} /> Paper to wrap round the blank
      </Button>
      {state.refusal && (
        <p className="wrong-text text-danger small" role="alert">
          {state.refusal}
        </p>
      )}
    </>
  );
}

/** The page that goes to the machine, as a PDF. */
export function SheetButton({ plan, lettering, ready }: { plan: PlanView; lettering: LetteringView | null; ready: boolean }) {
  const job = useJob();
  const surface = useSurface();
  const [state, setState] = useState<{ busy: boolean; refusal: string | null }>({ busy: false, refusal: null });
  const make = async () => {
    setState({ busy: true, refusal: null });
    try {
      const drawing = toSetupDrawing(surface, lettering!.artworks);
      const answer = await fetch('/api/sheet', {
        method: 'POST',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify({ sheet: plan.sheet, drawing, job }),
      });
      if (!answer.ok) throw new Error(((await answer.json()) as { text: string }).text);
      saveFile(`${toFileStem(job.name, 'program')}-set-up.pdf`, await answer.blob());
      setState({ busy: false, refusal: null });
    } catch (error) {
      setState({
        busy: false,
        refusal: `The set-up sheet could not be made: ${(error as Error).message}. Try it again; the job is as it was.`,
      });
    }
  };
  return (
    <>
      <Button
        variant="outline-primary"
        size="sm"
        className="w-100 mb-2"
        disabled={!ready || !lettering || !plan.sheet || state.busy}
        onClick={() => void make()}
      >
        <FilePdfIcon size={15} /> {state.busy ? 'Making the set-up sheet…' : 'Set-up sheet for the machine'}
      </Button>
      {state.refusal && (
        <p className="wrong-text text-danger small" role="alert">
          {state.refusal}
        </p>
      )}
    </>
  );
}
