import { reportSteps } from '../core/base/steps';
import { createPlanner, type Planner } from '../core/pipeline/plan';
import { createSetupOn, listToolsByHand } from '../core/pipeline/setup';
import { toPartTexts } from '../core/proof/readBack';
import { createSurface } from '../core/surface/registry';
import { createSensible } from '../core/suggest/sensible';
import {
  createChoice,
  measureLettering,
  mergeTools,
  planSet,
  suggestCuts,
  withoutOutlines,
  type SetFigures,
} from '../core/suggest/suggest';
import type { VoronoiEngine } from '../core/medial/voronoi';
import type { SuggestAnswer, SuggestRequest } from './protocol';
import { loadVoronoi } from './resources';
import { serve } from './serve';
import { ensureShape, workerShapes } from './shapes';

let loading: Promise<{ engine: VoronoiEngine; planner: Planner }> | null = null;

serve<SuggestRequest, SuggestAnswer, number>(async ({ job, lettering, crib, want }, { drive }) => {
  loading ??= loadVoronoi().then((engine) => ({ engine, planner: createPlanner(engine) }));
  await ensureShape(job);
  const { engine, planner } = await loading;
  const surface = createSurface(job.blank, workerShapes);
  const targets = want.kind === 'cut' ? want.targets : 'all';
  // What is only gone round is no stroke, unless it is asked for by its name.
  const own =
    targets === 'all'
      ? withoutOutlines(job, lettering)
      : { ...lettering, artworks: lettering.artworks.filter((a) => targets.includes(a.id)) };
  const strokes = measureLettering(own, engine);
  const cutters = mergeTools(job.tools, crib);
  const sensible = want.kind === 'cut' ? createSensible(want.cut, want.id, strokes, cutters, createChoice(job, lettering, surface)) : null;
  const suggestions =
    want.kind === 'sets' ? await drive(suggestCuts(job, lettering, surface, cutters, strokes, planner, () => performance.now())) : [];
  const figures: SetFigures[] = [];
  if (want.kind === 'trials')
    for (const { cuts } of [job, ...job.trials]) figures.push(await drive(planSet({ ...job, cuts }, lettering, surface, strokes, planner)));
  let program: SuggestAnswer['program'] = null;
  if (want.kind === 'program') {
    const setup = createSetupOn({ ...job, cuts: want.cuts }, surface);
    const plan = await drive(reportSteps(planner.plan(setup, lettering), ({ share }) => share));
    const hand = listToolsByHand(setup.runs, plan).map((t) => t.id);
    program = plan.laid.count > 0 ? { texts: toPartTexts(plan.program), hand } : null;
  }
  return { answer: { strokes, sensible, suggestions, figures, program } };
});
