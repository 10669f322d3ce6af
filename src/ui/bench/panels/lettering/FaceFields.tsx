'use client';

import Form from 'react-bootstrap/Form';
import type { FontRef, Inscription, SeriesInscription, TextInscription } from '../../../../core/job/schema';
import { Choice, Fold, Tick } from '../../../common/fields';
import { QuantityField } from '../../../common/QuantityField';
import { useJobPart, type InscriptionPatch } from '../../../state/benchStore';
import type { FontCard } from '../../../../core/lettering/fontCard';
import { ISO_HEIGHTS } from './isoHeights';

type Faced = TextInscription | SeriesInscription;
interface Props {
  inscription: Faced;
  fonts: readonly FontCard[];
  set(patch: InscriptionPatch): string | null;
}

const SYNTHETIC_SLANT_DEG = 12;
/** Synthesised bold: growth of the strokes as a share of the height. */
const SYNTHETIC_WEIGHT = 0.06;

export const fontIdOf = (ref: FontRef): string => ('id' in ref ? ref.id : '');

/** The list of fonts, outline fonts by class and family, stroke fonts last. */
export function FontSelect({
  label,
  value,
  fonts,
  onValue,
  none,
}: {
  label: string;
  value: string;
  fonts: readonly FontCard[];
  onValue(font: FontCard | null): void;
  none?: string;
}) {
  const classes = [...new Set(fonts.map((f) => (f.kind === 'stroke' ? 'stroke, for centre-line cuts' : f.class)))].sort(
    (a, b) => Number(a.startsWith('stroke')) - Number(b.startsWith('stroke')) || a.localeCompare(b),
  );
  return (
    <Form.Group controlId={`font-${label.replace(/\W+/g, '-')}`} className="wide">
      <Form.Label>{label}</Form.Label>
      <Form.Select size="sm" value={value} onChange={(e) => onValue(fonts.find((f) => f.id === e.target.value) ?? null)}>
        {none !== undefined && <option value="">{none}</option>}
        {value && !fonts.some((f) => f.id === value) && <option value={value}>{value} (not in the type case)</option>}
        {classes.map((c) => (
          <optgroup key={c} label={c}>
            {fonts
              .filter((f) => (f.kind === 'stroke' ? 'stroke, for centre-line cuts' : f.class) === c)
              .map((f) => (
                <option key={f.id} value={f.id}>
                  {f.kind === 'stroke' ? f.family : `${f.family} ${f.style}`}
                </option>
              ))}
          </optgroup>
        ))}
      </Form.Select>
    </Form.Group>
  );
}

/** Font, size and the shape of the letters; the same for wording and for the labels of a scale. */
export function FaceFields({ inscription, fonts, set }: Props) {
  const units = useJobPart((j) => j.units);
  const font = fonts.find((f) => f.id === fontIdOf(inscription.font));
  const take = (f: FontCard): InscriptionPatch => ({ font: { id: f.id }, fontSha256: f.sha256 });
  const sibling = (bold: boolean, italic: boolean) =>
    fonts.find((f) => font && f.family === font.family && f.weight >= 600 === bold && f.italic === italic);
  const isBold = font ? font.weight >= 600 || inscription.weightMm > 0 : false;
  const isItalic = font ? font.italic || inscription.slantDeg > 0 : false;
  // A real face where the family has one; else the letters are grown or slanted, and it is said.
  const turn = (which: 'bold' | 'italic', on: boolean) => {
    if (!font) return;
    const real = which === 'bold' ? sibling(on, font.italic) : sibling(font.weight >= 600, on);
    if (which === 'bold')
      set(real ? { ...take(real), weightMm: 0 } : { weightMm: on ? Math.round(inscription.heightMm * SYNTHETIC_WEIGHT * 100) / 100 : 0 });
    else set(real ? { ...take(real), slantDeg: 0 } : { slantDeg: on ? SYNTHETIC_SLANT_DEG : 0 });
  };
  const iso = ISO_HEIGHTS.find((h) => h === inscription.heightMm && inscription.heightOf === 'capitals');
  const synthetic = [inscription.weightMm !== 0 && 'weight', inscription.slantDeg !== 0 && 'slant'].filter(Boolean);
  return (
    <>
      <div className="fields mt-2">
        <FontSelect label="Font" value={fontIdOf(inscription.font)} fonts={fonts} onValue={(f) => f && set(take(f))} />
        <div className="wide d-flex gap-3 align-items-center">
          {font?.kind !== 'stroke' && <Tick label="Bold" checked={isBold} onValue={(on) => turn('bold', on)} />}
          <Tick label="Italic" checked={isItalic} onValue={(on) => turn('italic', on)} />
          {synthetic.length > 0 && <span className="why m-0">{synthetic.join(' and ')} made from the plain letters</span>}
        </div>
        <QuantityField label="Height" kind="length" value={inscription.heightMm} units={units} onValue={(v) => set({ heightMm: v })} />
        <Choice
          label="measures the"
          value={inscription.heightOf}
          options={[
            ['capitals', 'capitals'],
            ['body', 'body (point size)'],
          ]}
          onValue={(v) => set({ heightOf: v })}
        />
      </div>
      <Fold
        title="Letters"
        brief={[
          inscription.widthRatio !== 1 && `width × ${inscription.widthRatio}`,
          inscription.letterSpacingMm !== 0 && 'spaced',
          iso && `ISO 3098 height`,
        ]
          .filter(Boolean)
          .join(', ')}
      >
        <div className="fields">
          <Choice
            label="By ISO 3098"
            wide
            value={iso ? String(iso) : ''}
            options={[
              ['', 'none'],
              ...ISO_HEIGHTS.map((h) => [String(h), `${h} mm, lines ${(h / 10).toFixed(2)} (B) or ${(h / 14).toFixed(2)} (A)`] as const),
            ]}
            onValue={(v) => v && set({ heightMm: Number(v), heightOf: 'capitals' })}
          />
          <QuantityField
            label="Width × normal"
            kind="number"
            value={inscription.widthRatio}
            units={units}
            onValue={(v) => set({ widthRatio: v })}
          />
          <QuantityField label="Slant" kind="angle" value={inscription.slantDeg} units={units} onValue={(v) => set({ slantDeg: v })} />
          {font?.kind !== 'stroke' && (
            <>
              <QuantityField
                label="Weight added"
                kind="length"
                value={inscription.weightMm}
                units={units}
                onValue={(v) => set({ weightMm: v })}
              />
              <span />
            </>
          )}
          <QuantityField
            label="Letter spacing"
            kind="length"
            value={inscription.letterSpacingMm}
            units={units}
            onValue={(v) => set({ letterSpacingMm: v })}
          />
          <QuantityField
            label="and % of it"
            kind="number"
            value={inscription.letterSpacingPercent}
            units={units}
            onValue={(v) => set({ letterSpacingPercent: v })}
          />
          <Tick label="Kerning" checked={inscription.kerning} onValue={(v) => set({ kerning: v })} />
          <Tick label="Ligatures" checked={inscription.ligatures} onValue={(v) => set({ ligatures: v })} />
        </div>
      </Fold>
    </>
  );
}

export const isFaced = (i: Inscription): i is Faced => i.kind !== 'artwork';
