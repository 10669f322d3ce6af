'use client';

import type { Blank, BlankOf, RoundBlank } from '../../../../core/job/schema';
import { findApexMm, getTaper, withHalfAngle, withRatio, withSizes } from '../../../../core/surface/coneSets';
import { Choice, Fold } from '../../../common/fields';
import { formatLength, type Units } from '../../../common/format';
import { QuantityField } from '../../../common/QuantityField';

export interface FormProps<B extends Blank> {
  blank: B;
  /** Takes the changed blank, or says why it cannot be. */
  put(name: string, next: Blank): string | null;
  units: Units;
}

/** Bore and ends that stay clear, for every blank that turns. */
export function RoundFields({ blank, put, units }: FormProps<RoundBlank>) {
  const set = (patch: Partial<Pick<RoundBlank, 'boreMm' | 'clearDatumMm' | 'clearFarMm'>>) =>
    put(Object.keys(patch).join(), { ...blank, ...patch } as Blank);
  const length = (v: number) => formatLength(v, units, 2);
  const brief = [
    blank.boreMm > 0 ? `bore ${length(blank.boreMm)}` : 'solid',
    blank.clearDatumMm + blank.clearFarMm > 0 ? `clear ${length(blank.clearDatumMm)} and ${length(blank.clearFarMm)}` : '',
  ]
    .filter(Boolean)
    .join(', ');
  return (
    <Fold title="Bore and clear ends" brief={brief}>
      <div className="fields">
        <QuantityField label="Bore (0 if solid)" kind="length" value={blank.boreMm} units={units} onValue={(v) => set({ boreMm: v })} />
        <span />
        <QuantityField
          label="Clear at the datum end"
          kind="length"
          value={blank.clearDatumMm}
          units={units}
          onValue={(v) => set({ clearDatumMm: v })}
        />
        <QuantityField
          label="Clear at the far end"
          kind="length"
          value={blank.clearFarMm}
          units={units}
          onValue={(v) => set({ clearFarMm: v })}
        />
      </div>
      <p className="why">
        Depth is checked against the wall over the bore. Lettering may not reach into the clear ends: chuck jaws, a shoulder, a thread.
        Measured along the surface.
      </p>
    </Fold>
  );
}

export function CylinderForm({ blank, put, units }: FormProps<BlankOf<'cylinder'>>) {
  return (
    <>
      <div className="fields">
        <QuantityField
          label="Diameter"
          kind="length"
          value={blank.diameterMm}
          units={units}
          onValue={(v) => put('diameter', { ...blank, diameterMm: v })}
        />
        <QuantityField
          label="Length"
          kind="length"
          value={blank.lengthMm}
          units={units}
          onValue={(v) => put('length', { ...blank, lengthMm: v })}
        />
      </div>
      <RoundFields blank={blank} put={put} units={units} />
    </>
  );
}

const GIVEN = [
  ['diameters', 'both diameters'],
  ['taper', 'one diameter and the whole taper angle'],
  ['half-angle', 'one diameter and the half-angle'],
  ['ratio', 'one diameter and the taper 1 : k'],
] as const;

export function ConeForm({ blank, put, units }: FormProps<BlankOf<'cone'>>) {
  const taper = getTaper(blank);
  const widens = blank.farDiameterMm >= blank.datumDiameterMm;
  /** A taper that comes to a point inside the length is told with the length it could have. */
  const taken = (name: string, next: BlankOf<'cone'>): string | null => {
    if (next.farDiameterMm >= 0) return put(name, next);
    const apex = findApexMm(next);
    return apex === null
      ? put(name, next)
      : `The cone would come to a point at ${formatLength(apex, units, 2)} ${units}, before its end: shorten it or take a smaller angle`;
  };
  const angle = (v: number) => taken('taper', withHalfAngle(blank, (widens ? 1 : -1) * v));
  return (
    <>
      <div className="fields">
        <Choice label="Measured are" wide value={blank.given} options={GIVEN} onValue={(given) => put('given', { ...blank, given })} />
        <QuantityField
          label="Diameter, datum end"
          kind="length"
          value={blank.datumDiameterMm}
          units={units}
          onValue={(v) => taken('datum', withSizes(blank, { datumDiameterMm: v }))}
        />
        <QuantityField
          label="Length along the axis"
          kind="length"
          value={blank.lengthMm}
          units={units}
          onValue={(v) => taken('length', withSizes(blank, { lengthMm: v }))}
        />
        {blank.given === 'diameters' && (
          <QuantityField
            label="Diameter, far end"
            kind="length"
            value={blank.farDiameterMm}
            units={units}
            onValue={(v) => put('far', { ...blank, farDiameterMm: v })}
          />
        )}
        {blank.given === 'taper' && (
          <QuantityField
            label="Taper angle (whole)"
            kind="angle"
            value={Math.abs(taper.taperDeg)}
            units={units}
            onValue={(v) => (v >= 0 && v < 178 ? angle(v / 2) : 'Between 0 and 178°')}
          />
        )}
        {blank.given === 'half-angle' && (
          <QuantityField
            label="Half-angle to the axis"
            kind="angle"
            value={Math.abs(taper.halfAngleDeg)}
            units={units}
            onValue={(v) => (v >= 0 && v < 89 ? angle(v) : 'Between 0 and 89°')}
          />
        )}
        {blank.given === 'ratio' && (
          <QuantityField
            label="Taper 1 : k, k ="
            kind="number"
            value={Number.isFinite(taper.ratioK) ? Math.abs(taper.ratioK) : 1e6}
            units={units}
            onValue={(v) => (v > 0.01 ? taken('ratio', withRatio(blank, (widens ? 1 : -1) * v)) : 'More than 0.01')}
          />
        )}
        {blank.given !== 'diameters' && (
          <Choice
            label="Widens towards"
            value={widens ? 'far' : 'datum'}
            options={[
              ['far', 'the far end'],
              ['datum', 'the datum end'],
            ]}
            onValue={(v) => taken('widens', withHalfAngle(blank, (v === 'far' ? 1 : -1) * Math.abs(taper.halfAngleDeg)))}
          />
        )}
      </div>
      {blank.given === 'ratio' && <p className="why">1 : k means the diameter changes by 1 over a length of k.</p>}
      <RoundFields blank={blank} put={put} units={units} />
    </>
  );
}

export function PlateForm({ blank, put, units }: FormProps<BlankOf<'plate'>>) {
  const set = (patch: Partial<BlankOf<'plate'>>) => put(Object.keys(patch).join(), { ...blank, ...patch });
  return (
    <>
      <div className="fields">
        <Choice
          label="Shape"
          value={blank.shape}
          options={[
            ['rectangle', 'rectangle'],
            ['disc', 'disc'],
          ]}
          onValue={(shape) => set({ shape })}
        />
        <QuantityField
          label={blank.shape === 'disc' ? 'Diameter' : 'Length along'}
          kind="length"
          value={blank.lengthMm}
          units={units}
          onValue={(v) => set({ lengthMm: v })}
        />
        {blank.shape === 'rectangle' && (
          <QuantityField label="Width across" kind="length" value={blank.widthMm} units={units} onValue={(v) => set({ widthMm: v })} />
        )}
        <QuantityField label="Thickness" kind="length" value={blank.thicknessMm} units={units} onValue={(v) => set({ thicknessMm: v })} />
      </div>
      <Fold title="Inclined face" brief={blank.inclineDeg === 0 ? 'level' : `${blank.inclineDeg}° up to +${blank.inclineTowards}`}>
        <div className="fields">
          <QuantityField label="Inclined by" kind="angle" value={blank.inclineDeg} units={units} onValue={(v) => set({ inclineDeg: v })} />
          <Choice
            label="Rising towards"
            value={blank.inclineTowards}
            options={[
              ['x', '+x (along)'],
              ['y', '+y (across)'],
            ]}
            onValue={(inclineTowards) => set({ inclineTowards })}
          />
        </div>
        <p className="why">
          The face is turned about its datum edge, or about its middle line. An upright tool then leans by this angle against it: the cut is
          worked out for that.
        </p>
      </Fold>
    </>
  );
}

export function ArchedForm({ blank, put, units }: FormProps<BlankOf<'arched'>>) {
  const set = (patch: Partial<BlankOf<'arched'>>) => put(Object.keys(patch).join(), { ...blank, ...patch });
  /** Radius of an arch from its width and its height over the chord. */
  const rise = blank.radiusMm - Math.sqrt(Math.max(0, blank.radiusMm ** 2 - blank.chordMm ** 2 / 4));
  return (
    <>
      <div className="fields">
        <Choice
          label="Lettered"
          value={blank.side}
          options={[
            ['convex', 'outside (convex)'],
            ['concave', 'inside (hollow)'],
          ]}
          onValue={(side) =>
            set(side === 'concave' ? { side, mount: 'table', zero: blank.zero === 'axis' ? 'surface' : blank.zero } : { side })
          }
        />
        <QuantityField
          label="Radius of the face"
          kind="length"
          value={blank.radiusMm}
          units={units}
          onValue={(v) => set({ radiusMm: v })}
        />
        <QuantityField label="Width across" kind="length" value={blank.chordMm} units={units} onValue={(v) => set({ chordMm: v })} />
        <QuantityField
          label="or its rise"
          kind="length"
          value={rise}
          units={units}
          onValue={(v) =>
            v > 0 && v <= blank.chordMm / 2
              ? set({ radiusMm: (blank.chordMm ** 2 / 4 + v * v) / (2 * v) })
              : 'More than 0, at most half the width'
          }
        />
        <QuantityField label="Length along" kind="length" value={blank.lengthMm} units={units} onValue={(v) => set({ lengthMm: v })} />
        <QuantityField label="Thickness" kind="length" value={blank.thicknessMm} units={units} onValue={(v) => set({ thicknessMm: v })} />
        {blank.side === 'convex' && (
          <Choice
            label="Held"
            wide
            value={blank.mount}
            options={[
              ['table', 'lying on the table'],
              ['rotary', 'on the rotary, its axis the arch’s'],
            ]}
            onValue={(mount) => set({ mount, zero: mount === 'rotary' ? 'axis' : 'surface' })}
          />
        )}
      </div>
      <p className="why">With a straightedge across and a depth gauge in the middle you have width and rise; the radius follows.</p>
    </>
  );
}
