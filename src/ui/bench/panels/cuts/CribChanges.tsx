'use client';

import type { Tool } from '../../../../core/job/schema';
import { Button } from '../../../common/Button';
import { useBench, useJob } from '../../../state/benchStore';

/** What of a cutter a program depends on. */
const SIZES = {
  number: 'T',
  kind: 'kind',
  includedDeg: 'angle',
  tipMm: 'tip',
  cornerMm: 'corner',
  diameterMm: 'diameter',
  fluteLengthMm: 'flutes',
  shankMm: 'shank',
  stickOutMm: 'stick-out',
  holderMm: 'holder',
} as const satisfies Partial<Record<keyof Tool, string>>;

/** Sizes of a cutter in words, where two copies of it differ. */
const listChanges = (own: Tool, crib: Tool): string =>
  (Object.keys(SIZES) as (keyof typeof SIZES)[])
    .filter((key) => own[key] !== crib[key])
    .map((key) => `${SIZES[key]} ${own[key]} there ${crib[key]}`)
    .join(', ');

/** Cutters that the crib has otherwise than the job: the job keeps its copy until it is told to take the crib's. */
export function CribChanges({ crib, absent }: { crib: readonly Tool[]; absent: ReadonlySet<string> }) {
  const bench = useBench();
  const { tools, cuts, machine } = useJob();
  const used = new Set(cuts.flatMap((c) => [c.toolId, ...('clearing' in c ? c.clearing.map((s) => s.toolId) : [])]));
  const changed = tools.flatMap((own) => {
    const other = used.has(own.id) ? crib.find((t) => t.id === own.id) : undefined;
    return other && listChanges(own, other) !== '' ? [{ own, other }] : [];
  });
  const notThere = tools.filter((t) => used.has(t.id) && absent.has(t.id));
  if (changed.length + notThere.length === 0) return null;
  return (
    <div data-testid="crib-changes">
      {notThere.map((t) => (
        <p key={t.id} className="why mb-1">
          {machine.name} has no {t.name}: put it into its drawer at Crib, or choose another cutter.
        </p>
      ))}
      {changed.map(({ own, other }) => (
        <p key={own.id} className="why mb-1">
          The crib has {own.name} otherwise than this job: {listChanges(own, other)}.{' '}
          <Button
            size="sm"
            variant="link"
            className="p-0"
            onClick={() => bench.edit(`crib#${own.id}`, (j) => ({ ...j, tools: j.tools.map((t) => (t.id === own.id ? other : t)) }))}
          >
            Take the crib’s
          </Button>
        </p>
      ))}
    </div>
  );
}
