'use client';

import { type Anchor, type Inscription, type Job } from '../../../../core/job/schema';
import { toTurnDeg, type Surface } from '../../../../core/surface/surface';
import { type LetteringView } from '../../../../workers/planning.client';
import { Choice, Fold } from '../../../common/fields';
import { formatDeg, formatLength } from '../../../common/format';
import { QuantityField } from '../../../common/QuantityField';
import { patchInscription, useBench, type InscriptionPatch } from '../../../state/benchStore';

import { inked } from './layWords';

const EDGES: readonly [Anchor, string][] = [
  ['bottom', 'its line of writing'],
  ['centre', 'its middle'],
  ['top', 'the tops of its letters'],
];

/** Where an inscription stands against the rims, in true millimetres of the surface. */
export function Standing({
  inscription: i,
  job,
  surface,
  lettering,
}: {
  inscription: Inscription;
  job: Job;
  surface: Surface;
  lettering: LetteringView | null;
}) {
  const bench = useBench();
  const { units } = job;
  const set = (patch: InscriptionPatch) => bench.edit(`${i.id} ${Object.keys(patch).join()}`, patchInscription(i.id, patch));
  const art = inked(lettering).find((a) => a.id === i.id);
  const onGuide = i.kind === 'text' && i.onGuide !== null;
  if (onGuide || !surface.round) return null;
  const slant = surface.periodMm !== null && !surface.radialNormal;
  const { minX, maxX } = surface.domain;
  const runsRound = Math.abs(Math.abs(i.rotationDeg) - 90) < 1e-6;
  const radius = surface.radiusAt(i.at.xMm, 0);
  const rows: [string, string][] = [];
  if (art) {
    rows.push(['Lettering from', `${formatDeg(toTurnDeg(surface, art.box.minY), 1)} to ${formatDeg(toTurnDeg(surface, art.box.maxY), 1)}`]);
    if (surface.periodMm !== null) {
      const over = art.box.maxY - art.box.minY - surface.periodMm;
      rows.push(
        over > 0
          ? ['Over itself at the seam by', formatDeg(toTurnDeg(surface, over), 1)]
          : [
              'Free round the blank',
              `${formatDeg(-toTurnDeg(surface, over), 1)} = ${formatLength((-over / surface.mmPerRad) * radius, units, 2)} ${units}`,
            ],
      );
    }
    rows.push([
      slant ? 'Ink along the slant' : 'Ink along',
      `${formatLength(art.box.minX, units, 2)} to ${formatLength(art.box.maxX, units, 2)} ${units}`,
    ]);
  }
  return (
    <Fold
      title={`Where “${i.kind === 'text' ? i.text.split('\n')[0] : i.name || i.kind}” stands`}
      open
      brief={`${formatLength(i.at.xMm - minX, units, 2)} ${units} from the datum rim`}
    >
      <div className="fields">
        {i.kind !== 'series' && runsRound && (
          <Choice
            label="Measured to"
            wide
            value={EDGES.some(([a]) => a === i.anchor) ? i.anchor : 'centre'}
            options={EDGES}
            onValue={(anchor) => set({ anchor })}
          />
        )}
        <QuantityField
          label="From the datum rim"
          kind="length"
          value={i.at.xMm - minX}
          units={units}
          onValue={(v) => set({ at: { ...i.at, xMm: v + minX } })}
        />
        <QuantityField
          label="or from the far rim"
          kind="length"
          value={maxX - i.at.xMm}
          units={units}
          onValue={(v) => set({ at: { ...i.at, xMm: maxX - v } })}
        />
        <QuantityField
          label={i.anchor.includes('left') ? 'Starts at' : i.anchor.includes('right') ? 'Ends at' : 'Its middle at'}
          kind="angle"
          value={i.at.turnDeg}
          units={units}
          onValue={(v) => set({ at: { ...i.at, turnDeg: v } })}
        />
        {i.kind === 'text' && i.fit.to === 'turn' && (
          <QuantityField
            label="Gap where it closes"
            kind="length"
            value={i.fit.gapMm}
            units={units}
            onValue={(v) => set({ fit: { ...(i.fit as Extract<typeof i.fit, { to: 'turn' }>), gapMm: v } })}
          />
        )}
        {i.kind !== 'series' && (
          <Choice
            label="Letters’ tops"
            value={i.rotationDeg === 90 ? 'datum' : i.rotationDeg === -90 ? 'far' : 'other'}
            options={[
              ['datum', 'to the datum end'],
              ['far', 'to the far end'],
              ['other', `turned by ${formatDeg(i.rotationDeg, 1)}`],
            ]}
            onValue={(v) => v !== 'other' && set({ rotationDeg: v === 'datum' ? 90 : -90 })}
          />
        )}
      </div>
      <p className="why">
        {slant
          ? 'Distances are true millimetres along the surface (the slant), not along the axis: lay a tape on the blank and they are what it shows.'
          : 'Distances are true millimetres along the surface.'}
      </p>
      {rows.length > 0 && (
        <table className="figures">
          <tbody>
            {rows.map(([name, value]) => (
              <tr key={name}>
                <td>{name}</td>
                <td>{value}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </Fold>
  );
}
