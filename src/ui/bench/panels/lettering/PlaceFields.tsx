'use client';

import { ANCHORS, type Anchor, type Inscription } from '../../../../core/job/schema';
import { fromTurnDeg, toTurnDeg } from '../../../../core/surface/surface';
import { useSurface } from '../../../state/useSurface';
import type { LetteringView } from '../../../../workers/planning.client';
import { Button } from '../../../common/Button';
import { Tick } from '../../../common/fields';
import { formatDeg, formatLength } from '../../../common/format';
import { RadioRow } from '../../../common/RadioRow';
import { QuantityField } from '../../../common/QuantityField';
import { useJob, type InscriptionPatch } from '../../../state/benchStore';

const ANCHOR_WORDS: Record<Anchor, string> = {
  'top-left': 'top left',
  top: 'top',
  'top-right': 'top right',
  left: 'left',
  centre: 'centre',
  right: 'right',
  'bottom-left': 'base left',
  bottom: 'base',
  'bottom-right': 'base right',
};

/** Where an inscription stands: which of its nine points, along, round in degrees or arc, and how it is turned. */
export function PlaceFields({
  inscription,
  lettering,
  set,
}: {
  inscription: Inscription;
  lettering: LetteringView | null;
  set(patch: InscriptionPatch): string | null;
}) {
  const job = useJob();
  const { units } = job;
  const surface = useSurface();
  const art = lettering?.inscriptions.find((i) => i.id === inscription.id);
  const inked = art && art.box.minX <= art.box.maxX;
  const yMm = fromTurnDeg(surface, inscription.at.turnDeg);
  // Round a cone or profile an arc is as long as the blank is wide there.
  const radius = surface.radiusAt(inscription.at.xMm, yMm);
  const arcMm = (inscription.at.turnDeg * Math.PI * radius) / 180;
  const slanted = surface.periodMm !== null && !surface.radialNormal;
  const setAt = (patch: Partial<Inscription['at']>) => set({ at: { ...inscription.at, ...patch } });
  // Centring is by the ink, as a caliper would measure it.
  const centre = (axis: 'x' | 'y') => {
    if (!art || !inked) return;
    if (axis === 'x') setAt({ xMm: inscription.at.xMm + (surface.domain.minX + surface.domain.maxX - art.box.minX - art.box.maxX) / 2 });
    else setAt({ turnDeg: toTurnDeg(surface, yMm - (art.box.minY + art.box.maxY) / 2) });
  };
  const onGuide = inscription.kind === 'text' && inscription.onGuide !== null;
  return (
    <>
      <h3>Place on the blank</h3>
      {onGuide ? (
        <p className="why">It stands on its guide: move the guide, or the words along it.</p>
      ) : (
        <>
          <div className="place">
            <RadioRow
              className="anchors"
              label="Point that stands at the place"
              value={inscription.anchor}
              options={ANCHORS.map((a) => ({
                value: a,
                name: ANCHOR_WORDS[a],
                title: ANCHOR_WORDS[a],
                face: null,
                disabled: inscription.kind === 'series',
              }))}
              onValue={(a) => set({ anchor: a })}
            />
            <div className="fields">
              <QuantityField
                label={slanted ? 'Along the slant' : 'Along, x'}
                kind="length"
                value={inscription.at.xMm}
                units={units}
                onValue={(v) => setAt({ xMm: v })}
              />
              <QuantityField
                label="Turned by"
                kind="angle"
                value={inscription.rotationDeg}
                units={units}
                onValue={(v) => set({ rotationDeg: v })}
              />
              {surface.round ? (
                <>
                  <QuantityField
                    label="Round, turn"
                    kind="angle"
                    value={inscription.at.turnDeg}
                    units={units}
                    onValue={(v) => setAt({ turnDeg: v })}
                  />
                  <QuantityField
                    label="or arc length"
                    kind="length"
                    value={arcMm}
                    units={units}
                    onValue={(v) => setAt({ turnDeg: (v / radius) * (180 / Math.PI) })}
                  />
                </>
              ) : (
                <QuantityField
                  label="Across, y"
                  kind="length"
                  value={yMm}
                  units={units}
                  onValue={(v) => setAt({ turnDeg: toTurnDeg(surface, v) })}
                />
              )}
            </div>
          </div>
          <div className="d-flex gap-2 mt-1">
            <Button size="sm" variant="outline-primary" onClick={() => centre('x')}>
              Centre along
            </Button>
            <Button size="sm" variant="outline-primary" onClick={() => centre('y')}>
              {surface.round ? 'Centre at 0°' : 'Centre across'}
            </Button>
            <Button
              size="sm"
              variant="outline-primary"
              title="A quarter turn"
              onClick={() =>
                set({ rotationDeg: inscription.rotationDeg >= 180 ? inscription.rotationDeg - 270 : inscription.rotationDeg + 90 })
              }
            >
              +90°
            </Button>
          </div>
        </>
      )}
      {inked && (
        <p className="why figure" data-testid="ink-size">
          ink {formatLength(art.box.maxX - art.box.minX, units, 2)} ×{' '}
          {formatLength(((art.box.maxY - art.box.minY) / surface.mmPerRad) * radius, units, 2)} {units}
          {surface.round ? `, ${formatDeg(toTurnDeg(surface, art.box.maxY - art.box.minY), 1)} round` : ''}
        </p>
      )}
      <Tick label="Mirrored (stamp)" checked={inscription.mirrored} onValue={(v) => set({ mirrored: v })} />
    </>
  );
}
