'use client';

import { TrashIcon } from '@phosphor-icons/react';
import type { Guide, Job } from '../../../../core/job/schema';
import { Button } from '../../../common/Button';
import { Fold, TextField, Tick } from '../../../common/fields';
import { QuantityField } from '../../../common/QuantityField';
import { freeId, useBench, useJob, useView } from '../../../state/benchStore';
import { useSurface } from '../../../state/useSurface';

const KIND: Record<Guide['kind'], string> = { line: 'line', arc: 'arc', around: 'round the blank', path: 'curve' };

/** The guide taken out, and lettering off it. */
const removeGuide =
  (id: string) =>
  (job: Job): Job => ({
    ...job,
    guides: job.guides.filter((g) => g.id !== id),
    inscriptions: job.inscriptions.map((i) => {
      if (i.kind !== 'text' || !i.onGuide) return i;
      if (i.onGuide.guideId === id) return { ...i, onGuide: null, fit: i.fit.to === 'guide' ? { to: 'none' as const } : i.fit };
      return i.onGuide.topGuideId === id ? { ...i, onGuide: { ...i.onGuide, topGuideId: null } } : i;
    }),
  });

/** Guides: construction that wording follows, never cut. */
export function GuidesFold() {
  const bench = useBench();
  const job = useJob();
  const { units } = job;
  const chosen = useView((v) => v.guide);
  const drawing = useView((v) => v.drawing);
  const guide = job.guides.find((g) => g.id === chosen);
  const set = (patch: object) =>
    bench.edit(`${chosen} ${Object.keys(patch).join()}`, (j) => ({
      ...j,
      guides: j.guides.map((g) => (g.id === chosen ? ({ ...g, ...patch } as Guide) : g)),
    }));
  const surface = useSurface();
  const middle = (surface.domain.minX + surface.domain.maxX) / 2;
  const add = (make: (id: string) => Guide) => {
    const id = freeId(job.guides, 'guide');
    bench.edit(`add#${id}`, (j) => ({ ...j, guides: [...j.guides, make(id)] }));
    bench.view.setState({ guide: id });
  };
  const draw = (kind: 'line' | 'arc' | 'path') => bench.view.setState({ drawing: drawing === kind ? null : kind, guide: null });
  const field = (label: string, kind: 'length' | 'angle', value: number, onValue: (v: number) => string | null) => (
    <QuantityField label={label} kind={kind} value={value} units={units} onValue={onValue} />
  );
  return (
    <Fold title="Guides" brief={job.guides.length ? String(job.guides.length) : ''} open={job.guides.length > 0}>
      <div className="d-flex flex-wrap gap-1">
        <Button size="sm" variant={drawing === 'line' ? 'primary' : 'outline-primary'} onClick={() => draw('line')}>
          Draw a line
        </Button>
        <Button size="sm" variant={drawing === 'arc' ? 'primary' : 'outline-primary'} onClick={() => draw('arc')}>
          a circle
        </Button>
        <Button size="sm" variant={drawing === 'path' ? 'primary' : 'outline-primary'} onClick={() => draw('path')}>
          a curve
        </Button>
        <Button
          size="sm"
          variant="outline-primary"
          onClick={() => add((id) => ({ kind: 'around', id, name: 'Round the blank', xMm: middle, startDeg: -180 }))}
        >
          Round the blank
        </Button>
      </div>
      {drawing && (
        <p className="why" role="status">
          {
            {
              line: 'Click the two ends on the sheet.',
              arc: 'Click the centre, then a point of the circle.',
              path: 'Click for corners, drag for smooth points; Enter ends it, on the first point it closes.',
            }[drawing]
          }{' '}
          Escape stops.
        </p>
      )}
      <div className="chooser mt-1" role="listbox" aria-label="Guides">
        {job.guides.map((g) => (
          <button
            key={g.id}
            type="button"
            role="option"
            aria-selected={g.id === chosen}
            className={`row-item${g.id === chosen ? ' selected' : ''}`}
            onClick={() => bench.view.setState({ guide: g.id === chosen ? null : g.id })}
          >
            <span className="grow">{g.name || g.id}</span>
            <span className="small">{KIND[g.kind]}</span>
          </button>
        ))}
      </div>
      {guide && (
        <div className="fields">
          <TextField label="Name" wide value={guide.name} maxLength={120} onValue={(name) => set({ name })} />
          {guide.kind === 'line' && (
            <>
              {field('From x', 'length', guide.from.xMm, (v) => set({ from: { ...guide.from, xMm: v } }))}
              {field('y', 'length', guide.from.yMm, (v) => set({ from: { ...guide.from, yMm: v } }))}
              {field('to x', 'length', guide.to.xMm, (v) => set({ to: { ...guide.to, xMm: v } }))}
              {field('y', 'length', guide.to.yMm, (v) => set({ to: { ...guide.to, yMm: v } }))}
            </>
          )}
          {guide.kind === 'arc' && (
            <>
              {field('Centre x', 'length', guide.centre.xMm, (v) => set({ centre: { ...guide.centre, xMm: v } }))}
              {field('y', 'length', guide.centre.yMm, (v) => set({ centre: { ...guide.centre, yMm: v } }))}
              {field('Radius', 'length', guide.radiusMm, (v) => set({ radiusMm: v }))}
              <span />
              {field('Begins at', 'angle', guide.startDeg, (v) => set({ startDeg: v }))}
              {field('goes on for', 'angle', guide.sweepDeg, (v) => set({ sweepDeg: v }))}
              <p className="why wide">Minus runs clockwise, so that words stand on the outside.</p>
            </>
          )}
          {guide.kind === 'around' && (
            <>
              {field('At x', 'length', guide.xMm, (v) => set({ xMm: v }))}
              {field('begins at', 'angle', guide.startDeg, (v) => set({ startDeg: v }))}
            </>
          )}
          {guide.kind === 'path' && <Tick label="Closed" checked={guide.closed} onValue={(closed) => set({ closed })} />}
          <Button
            size="sm"
            variant="outline-secondary"
            onClick={() => {
              bench.edit(`remove#${guide.id}`, removeGuide(guide.id));
              bench.view.setState({ guide: null });
            }}
          >
            <TrashIcon size={13} /> Remove the guide
          </Button>
        </div>
      )}
    </Fold>
  );
}
