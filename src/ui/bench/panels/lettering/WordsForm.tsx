'use client';

import { useState } from 'react';
import Form from 'react-bootstrap/Form';
import { computeBox, type Box } from '../../../../core/base/rings';
import { createRepeat } from '../../../../core/lettering/createRepeat';
import { MAX_TEXT_LENGTH, type Fit, type TextInscription } from '../../../../core/job/schema';
import { createOnGuide } from '../../../../core/job/defaults';
import { Button } from '../../../common/Button';
import { Choice, Fold, TextField, Tick } from '../../../common/fields';
import { QuantityField } from '../../../common/QuantityField';
import { useJob, type InscriptionPatch } from '../../../state/benchStore';
import { useSurface } from '../../../state/useSurface';
import type { FontCard } from '../../../../core/lettering/fontCard';
import { FaceFields, fontIdOf, FontSelect } from './FaceFields';

interface Props {
  inscription: TextInscription;
  fonts: readonly FontCard[];
  /** Of its ink on the sheet, mm; null until it is set. */
  box: Box | null;
  set(patch: InscriptionPatch): string | null;
}

/** The wording: what it says, how it is set, what it is fitted to, which guide it follows, how often it stands. */
export function WordsForm({ inscription, fonts, box, set }: Props) {
  const job = useJob();
  const { units } = job;
  const [refusal, setRefusal] = useState<string | null>(null);
  return (
    <>
      <Form.Group controlId="wording">
        <Form.Label>Words</Form.Label>
        <Form.Control
          as="textarea"
          rows={Math.min(6, Math.max(2, inscription.text.split('\n').length))}
          value={inscription.text}
          spellCheck={false}
          dir="auto"
          onChange={(e) =>
            setRefusal(
              e.target.value.length > MAX_TEXT_LENGTH
                ? `An inscription holds up to ${MAX_TEXT_LENGTH} characters; this would be ${e.target.value.length}. The wording was left as it was.`
                : set({ text: e.target.value }),
            )
          }
        />
        {refusal && (
          <div className="wrong-text text-danger small" role="alert">
            {refusal}
          </div>
        )}
      </Form.Group>
      <FaceFields inscription={inscription} fonts={fonts} set={set} />
      <Fold
        title="Lines and words"
        brief={
          inscription.justify === 'centre' ? '' : { left: 'to the left', right: 'to the right', full: 'full lines' }[inscription.justify]
        }
      >
        <div className="fields">
          <Choice
            label="Lines"
            value={inscription.justify}
            options={[
              ['left', 'to the left'],
              ['centre', 'centred'],
              ['right', 'to the right'],
              ['full', 'full'],
            ]}
            onValue={(v) => set({ justify: v })}
          />
          <QuantityField
            label="Line spacing × body"
            kind="number"
            value={inscription.lineSpacingRatio}
            units={units}
            onValue={(v) => set({ lineSpacingRatio: v })}
          />
          <QuantityField
            label="Word spacing"
            kind="length"
            value={inscription.wordSpacingMm}
            units={units}
            onValue={(v) => set({ wordSpacingMm: v })}
          />
          <span />
          <FontSelect
            label="For characters it has not got"
            value={inscription.fallbackFont ? fontIdOf(inscription.fallbackFont) : ''}
            fonts={fonts}
            none="none: say so"
            onValue={(f) => set({ fallbackFont: f ? { id: f.id } : null })}
          />
        </div>
      </Fold>
      <FitFold inscription={inscription} set={set} />
      <GuideFold inscription={inscription} set={set} />
      <RepeatFold inscription={inscription} box={box} set={set} />
    </>
  );
}

type Part = Pick<Props, 'inscription' | 'set'>;
const BY = [
  ['spacing', 'letter spacing'],
  ['scale', 'size'],
] as const;
const FIT_WORDS: Record<Fit['to'], string> = {
  none: '',
  box: 'to a box',
  length: 'to a length',
  angle: 'to an angle',
  turn: 'all the way round',
  guide: 'to its guide',
};

function FitFold({ inscription, set }: Part) {
  const { units } = useJob();
  const surface = useSurface();
  const { fit } = inscription;
  // A new box is the whole sheet, as the words lie on it.
  const { minX, maxX, minY, maxY } = surface.domain;
  const lies = Math.abs(Math.sin((inscription.rotationDeg * Math.PI) / 180)) > 0.7;
  const sheet = { widthMm: lies ? maxY - minY : maxX - minX, heightMm: lies ? maxX - minX : maxY - minY };
  const change = (to: Fit['to']): Fit => {
    const by = 'by' in fit ? fit.by : 'spacing';
    switch (to) {
      case 'none':
        return { to };
      case 'box':
        return { to, ...sheet, how: 'shrink' };
      case 'length':
        return { to, lengthMm: 40, by };
      case 'angle':
        return { to, angleDeg: 120, by };
      case 'turn':
        return { to, gapMm: 5, by };
      case 'guide':
        return { to, gapMm: 0, by };
    }
  };
  return (
    <Fold title="Fit" brief={FIT_WORDS[fit.to]}>
      <div className="fields">
        <Choice
          label="Fitted to"
          value={fit.to}
          onValue={(to) => set({ fit: change(to) })}
          options={[
            ['none', 'nothing'],
            ['box', 'a box'],
            ['length', 'a length'],
            ['angle', 'an angle round'],
            ['turn', 'the whole turn'],
            ...(inscription.onGuide ? [['guide', 'its guide'] as const] : []),
          ]}
        />
        {'by' in fit ? <Choice label="by" value={fit.by} options={BY} onValue={(by) => set({ fit: { ...fit, by } })} /> : <span />}
        {fit.to === 'box' && (
          <>
            <QuantityField
              label="Box, width"
              kind="length"
              value={fit.widthMm}
              units={units}
              onValue={(v) => set({ fit: { ...fit, widthMm: v } })}
            />
            <QuantityField
              label="height"
              kind="length"
              value={fit.heightMm}
              units={units}
              onValue={(v) => set({ fit: { ...fit, heightMm: v } })}
            />
            <Choice
              label="In it"
              wide
              value={fit.how}
              options={[
                ['shrink', 'shrink to fit'],
                ['fill', 'fit: grow or shrink'],
                ['wrap', 'break lines at its width'],
              ]}
              onValue={(how) => set({ fit: { ...fit, how } })}
            />
            <Button size="sm" variant="outline-primary" onClick={() => set({ fit: { ...fit, ...sheet } })}>
              The whole sheet
            </Button>
          </>
        )}
        {fit.to === 'length' && (
          <QuantityField
            label="Length"
            kind="length"
            value={fit.lengthMm}
            units={units}
            onValue={(v) => set({ fit: { ...fit, lengthMm: v } })}
          />
        )}
        {fit.to === 'angle' && (
          <QuantityField
            label="Angle"
            kind="angle"
            value={fit.angleDeg}
            units={units}
            onValue={(v) => set({ fit: { ...fit, angleDeg: v } })}
          />
        )}
        {(fit.to === 'turn' || fit.to === 'guide') && (
          <QuantityField
            label="Gap left"
            kind="length"
            value={fit.gapMm}
            units={units}
            onValue={(v) => set({ fit: { ...fit, gapMm: v } })}
          />
        )}
      </div>
      {fit.to === 'turn' && <p className="why">Lettering reads along its own line: turn it by 90° for that to run round the blank.</p>}
    </Fold>
  );
}

function GuideFold({ inscription, set }: Part) {
  const job = useJob();
  const { units, guides } = job;
  const on = inscription.onGuide;
  const nameOf = (id: string) => guides.find((g) => g.id === id)?.name || id;
  const patch = (p: Partial<NonNullable<typeof on>>) => on && set({ onGuide: { ...on, ...p } });
  return (
    <Fold title="Guide" brief={on ? `along ${nameOf(on.guideId)}` : ''}>
      {guides.length === 0 && (
        <p className="why">No guide yet: add a line, an arc, a circle or a free curve below, and the words can follow it.</p>
      )}
      <div className="fields">
        <Choice
          label="Follows"
          wide
          value={on?.guideId ?? ''}
          options={[['', 'no guide'], ...guides.map((g) => [g.id, g.name || g.id] as const)]}
          onValue={(id) =>
            set(
              id
                ? { onGuide: on ? { ...on, guideId: id } : createOnGuide(id) }
                : { onGuide: null, fit: inscription.fit.to === 'guide' ? { to: 'none' } : inscription.fit },
            )
          }
        />
        {on && (
          <>
            <Choice
              label="Begins at the guide’s"
              value={on.from}
              options={[
                ['start', 'start'],
                ['middle', 'middle'],
                ['end', 'end'],
              ]}
              onValue={(v) => patch({ from: v })}
            />
            <QuantityField
              label="moved along by"
              kind="length"
              value={on.distanceMm}
              units={units}
              onValue={(v) => patch({ distanceMm: v }) || null}
            />
            <Choice
              label="Letters stand"
              value={on.side}
              options={[
                ['above', 'on the line'],
                ['below', 'under the line'],
              ]}
              onValue={(v) => patch({ side: v })}
            />
            <QuantityField
              label="away by"
              kind="length"
              value={on.offsetMm}
              units={units}
              onValue={(v) => patch({ offsetMm: v }) || null}
            />
            <Choice
              label="Each letter is"
              value={on.letters}
              options={[
                ['turned', 'turned, undistorted'],
                ['upright', 'kept upright'],
                ['bent', 'bent along it'],
              ]}
              onValue={(v) => patch({ letters: v })}
            />
            <Choice
              label="Tops follow"
              value={on.topGuideId ?? ''}
              options={[['', 'the same guide'], ...guides.filter((g) => g.id !== on.guideId).map((g) => [g.id, g.name || g.id] as const)]}
              onValue={(id) => patch({ topGuideId: id || null })}
            />
            <Tick label="Runs from the other end" checked={on.reversed} onValue={(v) => patch({ reversed: v })} />
          </>
        )}
      </div>
    </Fold>
  );
}

function RepeatFold({ inscription, box, set }: Part & Pick<Props, 'box'>) {
  const { units } = useJob();
  const surface = useSurface();
  const { repeat } = inscription;
  const patch = (p: Partial<NonNullable<typeof repeat>>) => (repeat ? set({ repeat: { ...repeat, ...p } }) : null);
  const total = repeat ? repeat.roundCount * repeat.alongCount : 1;
  return (
    <Fold title="Repeat" brief={repeat ? `${total} times` : ''}>
      <Tick
        label="Stands several times"
        checked={repeat !== null}
        onValue={(on) => set({ repeat: on ? createRepeat(surface, box ?? computeBox([])) : null })}
      />
      {repeat && (
        <div className="fields">
          <QuantityField
            label="Times round"
            kind="number"
            value={repeat.roundCount}
            units={units}
            onValue={(v) => patch({ roundCount: v })}
          />
          <QuantityField
            label="every (0: evenly)"
            kind="angle"
            value={repeat.roundPitchDeg}
            units={units}
            onValue={(v) => patch({ roundPitchDeg: v })}
          />
          <QuantityField
            label="Times along"
            kind="number"
            value={repeat.alongCount}
            units={units}
            onValue={(v) => patch({ alongCount: v })}
          />
          <QuantityField
            label="every"
            kind="length"
            value={repeat.alongPitchMm}
            units={units}
            onValue={(v) => patch({ alongPitchMm: v })}
          />
          <Choice
            label="Each says"
            wide
            value={repeat.words.kind}
            options={[
              ['same', 'the same'],
              ['numbers', 'a number'],
              ['list', 'words of its own'],
            ]}
            onValue={(kind) =>
              patch({
                words:
                  kind === 'same'
                    ? { kind }
                    : kind === 'numbers'
                      ? { kind, start: 1, step: 1 }
                      : { kind, texts: Array.from({ length: total }, () => inscription.text) },
              })
            }
          />
          {repeat.words.kind === 'numbers' && (
            <>
              <QuantityField
                label="from"
                kind="number"
                value={repeat.words.start}
                units={units}
                onValue={(v) => (repeat.words.kind === 'numbers' ? patch({ words: { ...repeat.words, start: v } }) : null)}
              />
              <QuantityField
                label="by"
                kind="number"
                value={repeat.words.step}
                units={units}
                onValue={(v) => (repeat.words.kind === 'numbers' ? patch({ words: { ...repeat.words, step: v } }) : null)}
              />
            </>
          )}
          {repeat.words.kind === 'list' && (
            <TextField
              label="One a line"
              wide
              rows={3}
              value={repeat.words.texts.join('\n')}
              onValue={(v) => patch({ words: { kind: 'list', texts: v.split('\n') } })}
            />
          )}
        </div>
      )}
    </Fold>
  );
}
