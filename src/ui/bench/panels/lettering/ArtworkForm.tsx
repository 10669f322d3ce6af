'use client';

import { getRing } from '../../../../core/base/rings';
import { MAX_GUIDE_NODES, MAX_GUIDES, type ArtworkInscription, type Guide, type GuideNode } from '../../../../core/job/schema';
import type { LetteringView } from '../../../../workers/planning.client';
import { Button } from '../../../common/Button';
import { Tick } from '../../../common/fields';
import { QuantityField } from '../../../common/QuantityField';
import { freeId, useBench, useJob, type InscriptionPatch } from '../../../state/benchStore';

interface Props {
  inscription: ArtworkInscription;
  lettering: LetteringView | null;
  set(patch: InscriptionPatch): string | null;
}

const CORNER = { inMm: { xMm: 0, yMm: 0 }, outMm: { xMm: 0, yMm: 0 } };

/** Imported artwork: its size, its layers, and its lines as guides for words. */
export function ArtworkForm({ inscription: a, lettering, set }: Props) {
  const bench = useBench();
  const job = useJob();
  const chains = lettering?.artworks.find((art) => art.id === a.id)?.chains;
  const count = chains ? chains.starts.length - 1 : 0;
  // Where the lines lie on the sheet now; a line with more points than a guide may have is thinned.
  const makeGuides = () => {
    if (!chains) return;
    const made: Guide[] = [];
    for (let k = 0; k < Math.min(count, MAX_GUIDES - job.guides.length); k++) {
      const xy = getRing(chains, k);
      const n = xy.length / 2;
      const step = Math.ceil(n / MAX_GUIDE_NODES);
      const nodes: GuideNode[] = [];
      for (let i = 0; i < n; i += i + step < n || i === n - 1 ? step : n - 1 - i)
        nodes.push({ xMm: xy[2 * i]!, yMm: xy[2 * i + 1]!, ...CORNER });
      const closed = n > 2 && Math.hypot(xy[0]! - xy[2 * n - 2]!, xy[1]! - xy[2 * n - 1]!) < 1e-6;
      made.push({
        kind: 'path',
        id: freeId([...job.guides, ...made], 'guide'),
        name: `${a.source.slice(0, 80)}, line ${k + 1}`,
        closed,
        nodes: closed ? nodes.slice(0, -1) : nodes,
      });
    }
    bench.edit(bench.nameStep('guides'), (j) => ({
      ...j,
      guides: [...j.guides, ...made],
      inscriptions: j.inscriptions.map((i) => (i.id === a.id ? { ...i, hidden: true } : i)),
    }));
    bench.view.setState({ guide: made[0]?.id ?? null });
  };
  return (
    <>
      <p className="why">From {a.source}. Outlines are carved by a V-carve, lines engraved by a centre-line cut.</p>
      <div className="fields">
        <QuantityField
          label="Size × as it came"
          kind="number"
          value={a.scaleRatio}
          units={job.units}
          onValue={(v) => set({ scaleRatio: v })}
        />
      </div>
      <h3>Layers</h3>
      {a.layers.map((l, k) => (
        <Tick
          key={l.name}
          label={`${l.name}: ${l.rings.length} outlines, ${l.chains.length} lines`}
          checked={l.on}
          onValue={(on) => set({ layers: a.layers.map((x, i) => (i === k ? { ...x, on } : x)) })}
        />
      ))}
      {count > 0 && (
        <>
          <Button size="sm" variant="outline-primary" className="mt-1" onClick={makeGuides}>
            Make {count === 1 ? 'a guide' : 'guides'} of its {count === 1 ? 'line' : 'lines'}
          </Button>
          <p className="why">Guides are never cut; the artwork itself is hidden then.</p>
        </>
      )}
    </>
  );
}
