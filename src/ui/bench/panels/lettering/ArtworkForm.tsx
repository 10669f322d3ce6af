'use client';

import type { ArtworkInscription } from '../../../../core/job/schema';
import { Tick } from '../../../common/fields';
import { QuantityField } from '../../../common/QuantityField';
import { useJobPart, type InscriptionPatch } from '../../../state/benchStore';

/** Imported artwork: its size and its layers. */
export function ArtworkForm({ inscription: a, set }: { inscription: ArtworkInscription; set(patch: InscriptionPatch): string | null }) {
  const units = useJobPart((j) => j.units);
  return (
    <>
      <p className="why">From {a.source}. Outlines are carved by a V-carve, lines engraved by a centre-line cut.</p>
      <div className="fields"><QuantityField label="Size × as it came" kind="number" value={a.scaleRatio} units={units} onValue={(v) => set({ scaleRatio: v })} /></div>
      <h3>Layers</h3>
      {a.layers.map((l, k) => (
        <Tick key={l.name} label={`${l.name}: ${l.rings.length} outlines, ${l.chains.length} lines`} checked={l.on} onValue={(on) => set({ layers: a.layers.map((x, i) => (i === k ? { ...x, on } : x)) })} />
      ))}
    </>
  );
}
