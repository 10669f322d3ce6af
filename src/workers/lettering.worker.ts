import * as harfbuzz from 'harfbuzzjs';
import { toLocalDay } from '../core/base/today';
import { err, ok, type Result } from '../core/base/result';
import { ringsToPathData } from '../core/base/svgPath';
import type { FontRef, Job } from '../core/job/schema';
import { fillOnSurface, lineOnSurface } from '../core/lay/mesh';
import { createOutlineTypeface } from '../core/lettering/outlineTypeface';
import { createStrokeTypeface, type StrokeFontData } from '../core/lettering/strokeTypeface';
import type { Typeface } from '../core/lettering/typeface';
import { createLetterer, type FontLookupError } from '../core/pipeline/lettering';
import type { InscriptionArtwork } from '../core/lettering/artwork';
import { createSurface } from '../core/surface/registry';
import { ensureShape, workerShapes } from './shapes';
import type { InscriptionView, LetteringRequest, LetteringView } from './protocol';
import { serve } from './serve';

/** Height of the drawn lettering above the blank, and how far a drawn triangle may leave the surface, mm. */
const LIFT_MM = 0.02;
const DRAW_TOLERANCE_MM = 0.012;

const typefaces = new Map<string, Result<Typeface, FontLookupError>>();
const letterer = createLetterer(
  {
    find: (ref) => ('id' in ref ? typefaces.get(ref.id) : undefined) ?? err({ kind: 'fontUnknown', name: 'id' in ref ? ref.id : ref.file }),
  },
  () => toLocalDay(new Date()),
  workerShapes,
);
const views = new WeakMap<InscriptionArtwork, { key: string; view: InscriptionView }>();

async function loadTypeface(id: string): Promise<Result<Typeface, FontLookupError>> {
  const answer = await fetch(`/api/fonts/${encodeURIComponent(id)}`);
  if (answer.status === 404) return err({ kind: 'fontUnknown', name: id });
  if (!answer.ok) throw new Error(`the font "${id}" could not be loaded (${answer.status})`);
  const sha256 = answer.headers.get('x-font-sha256') ?? '';
  if (answer.headers.get('x-font-kind') === 'stroke') return ok(createStrokeTypeface(id, (await answer.json()) as StrokeFontData, sha256));
  return createOutlineTypeface(harfbuzz, id, id, new Uint8Array(await answer.arrayBuffer()), sha256);
}

async function ensureTypefaces(job: Job): Promise<void> {
  const refs = job.inscriptions.flatMap((i): FontRef[] =>
    i.kind === 'artwork' ? [] : i.kind === 'text' && i.fallbackFont ? [i.font, i.fallbackFont] : [i.font],
  );
  const wanted = [...new Set(refs.flatMap((ref) => ('id' in ref ? [ref.id] : [])))].filter((id) => !typefaces.has(id));
  await Promise.all(
    wanted.map(async (id) => {
      typefaces.set(id, await loadTypeface(id));
    }),
  );
}

/** Decimals of path data, mm: 0.1 µm. The view turns y up. */
const PATH_DECIMALS = 4;

function toView(job: Job, art: InscriptionArtwork): InscriptionView {
  const key = JSON.stringify(job.blank);
  const known = views.get(art);
  if (known?.key === key) return known.view;
  const surface = createSurface(job.blank, workerShapes);
  const view: InscriptionView = {
    id: art.id,
    at: job.inscriptions.find((i) => i.id === art.id)!.at,
    areaData: ringsToPathData(art.regions, { closed: true, decimals: PATH_DECIMALS }),
    strokeData: ringsToPathData(art.chains, { closed: false, decimals: PATH_DECIMALS }),
    reading: art.reading,
    letters: art.letters,
    box: art.box,
    frame: art.frame,
    fill: fillOnSurface(art.regions, surface, LIFT_MM, DRAW_TOLERANCE_MM),
    lines: lineOnSurface(art.chains, surface, LIFT_MM, DRAW_TOLERANCE_MM),
  };
  views.set(art, { key, view });
  return view;
}

serve<LetteringRequest, LetteringView, never>(async ({ job }) => {
  await Promise.all([ensureTypefaces(job), ensureShape(job)]);
  const start = performance.now();
  const lettering = letterer.compute(job);
  const inscriptions = lettering.artworks.map((art) => toView(job, art));
  return { answer: { inscriptions, findings: lettering.findings, artworks: lettering.artworks, computeMs: performance.now() - start } };
});
