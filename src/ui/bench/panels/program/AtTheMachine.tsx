'use client';

import { useState } from 'react';
import { DownloadSimpleIcon, FilePdfIcon } from '@phosphor-icons/react';
import { toFileStem } from '../../../../core/base/fileStem';
import { toPaperWrap } from '../../../../core/export/paperWrap';
import { toSetupDrawing } from '../../../../core/export/setupDrawing';
import { getZeroPlace } from '../../../../core/job/zero';
import { createSetupOn, listRuns } from '../../../../core/pipeline/setup';
import { findStrokeStart } from '../../../../core/program/beginHere';
import { beginProven } from '../../../../core/proof/begin';
import { proveDryRun, type DryRunProof } from '../../../../core/proof/dryRun';
import { toPartName, toPartText } from '../../../../core/program/dialect';
import { toDryRun } from '../../../../core/program/dryRun';
import { OUTLINE_HEIGHT_MM, type LetteringView, type PlanView } from '../../../../workers/planning.client';
import { Button } from '../../../common/Button';
import { formatLengthUnit, formatTime } from '../../../common/format';
import { QuantityField } from '../../../common/QuantityField';
import { saveFile } from '../../../common/saveFile';
import { useBench, useJob } from '../../../state/benchStore';
import { useSurface } from '../../../state/useSurface';
import { toProgram } from '../../programView';
import { useToolPlace } from '../../playhead';
import { RunnerFold } from './RunnerFold';

/** Lift of a dry run unless another is typed, mm. */
const DRY_LIFT_MM = 20;
/** A dry run keeps at least this far off the blank, mm. */
const DRY_CLEAR_MM = 1;

/** A sentence that goes on after another. */
const toClause = (text: string): string => text[0]!.toLowerCase() + text.slice(1);

/** Why a run for a look is not handed out, whatever else it is; null where it may be. */
function refuseRun({ still, faults }: DryRunProof, what: string): string | null {
  if (!still) return `A block of the machine’s own starts the spindle: take that out of it first.`;
  return faults > 0 ? `The ${what} does not read back: report this, it is a defect of Hobel.` : null;
}

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
      job,
      liftMm,
    );
    const proof = proveDryRun(createSetupOn(job, surface), texts);
    const { leastMm, topMm, beyond } = proof;
    const why = refuseRun(proof, 'dry run');
    if (why) return setTold({ wrong: true, text: why });
    if (leastMm < DRY_CLEAR_MM) {
      const wanted = Math.ceil(liftMm + DRY_CLEAR_MM - leastMm);
      const how = leastMm < 0 ? `${length(-leastMm)} into the blank` : `within ${length(leastMm)} of the blank`;
      return setTold({ wrong: true, text: `Lifted by ${length(liftMm)} it would come ${how}: lift it by ${length(wanted)} or more.` });
    }
    if (beyond[0])
      return setTold({
        wrong: true,
        text: `Lifted by ${length(liftMm)} it would be more than the machine can do: ${beyond[0].text}. Lift it by less, or ${toClause(beyond[0].remedy)}.`,
      });
    plan.program.parts.forEach((p, k) => saveFile(p.name.replace(/\.nc$/, '-dry.nc'), texts[k]!));
    setTold({ wrong: false, text: `Read back, it stays ${length(leastMm)} off the blank and goes up to Z ${length(topMm)}.` });
  };
  const takeOutline = () => {
    const proof = proveDryRun(createSetupOn(job, surface), [plan.outlineRun!]);
    const { leastMm, beyond } = proof;
    const why = refuseRun(proof, 'outline run');
    if (why) return setTold({ wrong: true, text: why });
    if (beyond[0])
      return setTold({ wrong: true, text: `The outline run is more than the machine can do: ${beyond[0].text}. ${beyond[0].remedy}.` });
    if (leastMm < DRY_CLEAR_MM)
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
  const surface = useSurface();
  const place = useToolPlace(plan);
  const [told, setTold] = useState<{ wrong: boolean; text: string } | null>(null);
  const { laid, blocks } = plan;
  const from = place && blocks.count > 0 ? findStrokeStart({ laid, moves: blocks }, place.block) : 0;
  const runs = listRuns(job);
  const run = runs[laid.run[blocks.move[from] ?? 0]!];
  const line = (plan.program.lineOfBlock[from] ?? 0) + 1;
  const several = plan.program.parts.length > 1;
  const make = () => {
    const begun = beginProven(createSetupOn(job, surface), { laid, moves: blocks }, toProgram(plan.program), from);
    if (!begun)
      return setTold({
        wrong: true,
        text: 'Begun here, the program does not read back as the whole one does: report this, it is a defect.',
      });
    const { partOfBlock } = plan.program;
    const stem = several ? plan.program.parts[partOfBlock[from]!]!.name.replace(/\.[^.]*$/, '') : toFileStem(job.name, 'program');
    for (const p of begun.parts) saveFile(toPartName(p, `${stem}-from-line-${line}`), toPartText(p));
    const last = partOfBlock.lastIndexOf(partOfBlock[from]!);
    const left = formatTime(blocks.timesS[last]! - (blocks.timesS[from - 1] ?? 0));
    const after = several && last + 1 < blocks.count ? ' Files after it are run as they are.' : '';
    setTold({
      wrong: false,
      text: `Read back, it cuts what ${several ? 'that file' : 'the whole program'} cuts from line ${line} on: about ${left}.${after}`,
    });
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
            : `Where the tool stands: line ${line}${several ? ` of ${plan.program.parts[plan.program.partOfBlock[from]!]!.name}` : ''}${run ? `, in "${run.cut.name}"` : ''}. It goes up first, across, and down there.`}
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
      <RunnerFold plan={plan} ready={ready} />
    </>
  );
}

/** What the server sets a PDF from, and what is added to its name. */
interface PdfOrder {
  url: string;
  body: unknown;
  suffix: string;
}

interface PdfButtonProps {
  label: string;
  what: string;
  title?: string;
  disabled: boolean;
  /** What is ordered, or why it cannot be. */
  order(): PdfOrder | string | Promise<PdfOrder | string>;
}

/** Orders a PDF and saves it; says why there is none. */
function PdfButton({ label, what, title, disabled, order }: PdfButtonProps) {
  const job = useJob();
  const [busy, setBusy] = useState(false);
  const [refusal, setRefusal] = useState<string | null>(null);
  const make = async () => {
    const ordered = await order();
    if (typeof ordered === 'string') return setRefusal(ordered);
    setRefusal(null);
    setBusy(true);
    try {
      const answer = await fetch(ordered.url, {
        method: 'POST',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify(ordered.body),
      });
      if (!answer.ok) throw new Error(((await answer.json()) as { text: string }).text);
      saveFile(`${toFileStem(job.name, 'program')}-${ordered.suffix}.pdf`, await answer.blob());
    } catch (error) {
      setRefusal(`${what} could not be made: ${(error as Error).message}. Try it again; the job is as it was.`);
    }
    setBusy(false);
  };
  return (
    <>
      <Button
        variant="outline-primary"
        size="sm"
        className="w-100 mb-2"
        disabled={disabled || busy}
        title={title}
        onClick={() => void make()}
      >
        <FilePdfIcon size={15} /> {busy ? 'Making it…' : label}
      </Button>
      {refusal && (
        <p className="wrong-text text-danger small" role="alert">
          {refusal}
        </p>
      )}
    </>
  );
}

/** Paper in true size to hold round the blank. */
function WrapButton({ lettering }: { lettering: LetteringView | null }) {
  const job = useJob();
  const surface = useSurface();
  const order = () => {
    const made = toPaperWrap(surface, lettering!.artworks, job.name, getZeroPlace(job.blank, job.zero).turnDeg);
    return made.ok ? { url: '/api/wrap', body: { ...made.value, title: job.name }, suffix: 'wrap' } : WRAP_REFUSALS[made.error.kind];
  };
  return (
    <PdfButton
      label="Paper to wrap round the blank"
      what="The paper"
      title="In true size, to hold round the real blank before anything is cut"
      disabled={!lettering}
      order={order}
    />
  );
}

/** Width of the piece's picture on the page, and what its view takes to show all that is cut, ms. */
const PICTURE_PX = 900;
const FINISHED_MS = 900;

const toDataUrl = (blob: Blob | null): Promise<string | null> =>
  new Promise((resolve) => {
    if (!blob) return resolve(null);
    const reader = new FileReader();
    reader.onload = () => resolve(reader.result as string);
    reader.onerror = () => resolve(null);
    reader.readAsDataURL(blob);
  });

/** The page that goes to the machine. */
export function SheetButton({ plan, lettering, ready }: AtTheMachineProps) {
  const job = useJob();
  const surface = useSurface();
  const { captures, view } = useBench();
  const order = async () => {
    const drawing = toSetupDrawing(surface, lettering!.artworks);
    // As it is when all is cut, wherever the playhead stands.
    const { playS } = view.getState();
    if (playS !== Infinity) {
      view.setState({ playS: Infinity, playing: false });
      await new Promise((resolve) => setTimeout(resolve, FINISHED_MS));
    }
    const picture = await toDataUrl((await captures.get('blank')?.(PICTURE_PX)) ?? null);
    view.setState({ playS });
    return { url: '/api/sheet', body: { sheet: plan.sheet, drawing, picture, job }, suffix: 'set-up' };
  };
  return (
    <PdfButton label="Set-up sheet for the machine" what="The set-up sheet" disabled={!ready || !lettering || !plan.sheet} order={order} />
  );
}
