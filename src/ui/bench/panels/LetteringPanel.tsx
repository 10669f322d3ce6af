'use client';

import Form from 'react-bootstrap/Form';
import { CopyIcon, PlusIcon, TrashIcon } from '@phosphor-icons/react';
import { createInscription } from '../../../core/job/defaults';
import { ANCHORS, MAX_TEXT_LENGTH, type Anchor, type Inscription } from '../../../core/job/schema';
import { createSurface } from '../../../core/surface/registry';
import type { LetteringView } from '../../../workers/planning.client';
import { Button } from '../../common/Button';
import { formatDeg, formatLength } from '../../common/format';
import { QuantityField } from '../../common/QuantityField';
import { freeId, patchInscription, removeInscription, useBench, useJob, useView } from '../../state/benchStore';
import type { FontChoice } from '../Bench';
import { useState } from 'react';

const DEFAULT_FONT = 'dejavu-sans-bold';
const ANCHOR_WORDS: Record<Anchor, string> = {
  'top-left': 'top left', top: 'top', 'top-right': 'top right', left: 'left', centre: 'centre', right: 'right',
  'bottom-left': 'base left', bottom: 'base', 'bottom-right': 'base right',
};

/** The wording, how it is set, and where it stands. */
export function LetteringPanel({ lettering, fonts }: { lettering: LetteringView | null; fonts: readonly FontChoice[] }) {
  const bench = useBench();
  const job = useJob();
  const selected = useView((v) => v.selected);
  const inscription = job.inscriptions.find((i) => i.id === selected);
  const add = () => {
    const id = freeId(job.inscriptions, 'words');
    bench.edit(`add#${id}`, (j) => ({ ...j, inscriptions: [...j.inscriptions, createInscription(id, 'NEW WORDS', DEFAULT_FONT, j.blank.lengthMm / 2)] }));
    bench.view.setState({ selected: id });
  };
  return (
    <>
      <div className="d-flex align-items-baseline"><h2 className="flex-grow-1">Lettering</h2>
        <Button size="sm" variant="outline-primary" onClick={add}><PlusIcon size={13} /> Add</Button>
      </div>
      <div className="chooser" role="listbox" aria-label="Inscriptions">
        {job.inscriptions.map((i) => (
          <button key={i.id} type="button" role="option" aria-selected={i.id === selected} className={`row-item${i.id === selected ? ' selected' : ''}`} onClick={() => bench.view.setState({ selected: i.id })}>
            <span className="grow">{i.text.split('\n')[0] || 'empty'}</span>
            <span className="small">{i.name}</span>
          </button>
        ))}
        {job.inscriptions.length === 0 && <p className="why">Nothing yet. Add an inscription and type its words.</p>}
      </div>
      {inscription && <InscriptionForm key={inscription.id} inscription={inscription} lettering={lettering} fonts={fonts} />}
    </>
  );
}

function InscriptionForm({ inscription, lettering, fonts }: { inscription: Inscription; lettering: LetteringView | null; fonts: readonly FontChoice[] }) {
  const bench = useBench();
  const job = useJob();
  const { units } = job;
  const [refusal, setRefusal] = useState<string | null>(null);
  const { id } = inscription;
  const set = (patch: Partial<Inscription>) => bench.edit(`${id} ${Object.keys(patch).join()}`, patchInscription(id, patch));
  const surface = createSurface(job.blank);
  const art = lettering?.inscriptions.find((i) => i.id === id);
  const inked = art && art.box.minX <= art.box.maxX;
  const yMm = (inscription.at.turnDeg * Math.PI * surface.mmPerRad) / 180;
  const setAt = (patch: Partial<Inscription['at']>) => set({ at: { ...inscription.at, ...patch } });
  // Centring is by the ink, as a caliper would measure it.
  const centre = (axis: 'x' | 'y') => {
    if (!art || !inked) return;
    if (axis === 'x') setAt({ xMm: inscription.at.xMm + (surface.domain.minX + surface.domain.maxX - art.box.minX - art.box.maxX) / 2 });
    else setAt({ turnDeg: ((yMm - (art.box.minY + art.box.maxY) / 2) / surface.mmPerRad) * (180 / Math.PI) });
  };
  const fontId = 'id' in inscription.font ? inscription.font.id : '';
  return (
    <>
      <Form.Group controlId="wording">
        <Form.Label>Words</Form.Label>
        <Form.Control
          as="textarea"
          rows={Math.min(5, Math.max(2, inscription.text.split('\n').length))}
          value={inscription.text}
          spellCheck={false}
          onChange={(e) => setRefusal(e.target.value.length > MAX_TEXT_LENGTH
            ? `An inscription holds up to ${MAX_TEXT_LENGTH} characters; this would be ${e.target.value.length}. The wording was left as it was.`
            : set({ text: e.target.value }))}
        />
        {refusal && <div className="wrong-text text-danger small" role="alert">{refusal}</div>}
      </Form.Group>
      <div className="fields mt-2">
        <Form.Group controlId="font" className="wide">
          <Form.Label>Font</Form.Label>
          <Form.Select size="sm" value={fontId} onChange={(e) => set({ font: { id: e.target.value } })}>
            {!fonts.some((f) => f.id === fontId) && <option value={fontId}>{fontId || 'a file'} (not in the type case)</option>}
            <optgroup label="Outline, for V-carving">
              {fonts.filter((f) => f.kind === 'outline').map((f) => <option key={f.id} value={f.id}>{f.family} {f.style}</option>)}
            </optgroup>
            <optgroup label="Stroke, for centre-line cuts">
              {fonts.filter((f) => f.kind === 'stroke').map((f) => <option key={f.id} value={f.id}>{f.family}</option>)}
            </optgroup>
          </Form.Select>
        </Form.Group>
        <QuantityField label="Height" kind="length" value={inscription.heightMm} units={units} onValue={(v) => set({ heightMm: v })} />
        <Form.Group controlId="height-of">
          <Form.Label>measures the</Form.Label>
          <Form.Select size="sm" value={inscription.heightOf} onChange={(e) => set({ heightOf: e.target.value as Inscription['heightOf'] })}>
            <option value="capitals">capitals</option>
            <option value="body">body (point size)</option>
          </Form.Select>
        </Form.Group>
        <QuantityField label="Letter spacing" kind="length" value={inscription.letterSpacingMm} units={units} onValue={(v) => set({ letterSpacingMm: v })} />
        <QuantityField label="Line spacing × body" kind="number" value={inscription.lineSpacingRatio} units={units} onValue={(v) => set({ lineSpacingRatio: v })} />
        <Form.Group controlId="justify">
          <Form.Label>Lines</Form.Label>
          <Form.Select size="sm" value={inscription.justify} onChange={(e) => set({ justify: e.target.value as Inscription['justify'] })}>
            <option value="left">to the left</option><option value="centre">centred</option><option value="right">to the right</option>
          </Form.Select>
        </Form.Group>
        <QuantityField label="Turned by" kind="angle" value={inscription.rotationDeg} units={units} onValue={(v) => set({ rotationDeg: v })} />
      </div>
      <h3>Place on the blank</h3>
      <div className="fields">
        <QuantityField label="Along, x" kind="length" value={inscription.at.xMm} units={units} onValue={(v) => setAt({ xMm: v })} />
        <Form.Group controlId="anchor">
          <Form.Label>is where its … stands</Form.Label>
          <Form.Select size="sm" value={inscription.anchor} onChange={(e) => set({ anchor: e.target.value as Anchor })}>
            {ANCHORS.map((a) => <option key={a} value={a}>{ANCHOR_WORDS[a]}</option>)}
          </Form.Select>
        </Form.Group>
        <QuantityField label="Round, turn" kind="angle" value={inscription.at.turnDeg} units={units} onValue={(v) => setAt({ turnDeg: v })} />
        <QuantityField label="or arc length" kind="length" value={yMm} units={units} onValue={(v) => setAt({ turnDeg: (v / surface.mmPerRad) * (180 / Math.PI) })} />
        <Button size="sm" variant="outline-primary" onClick={() => centre('x')}>Centre along</Button>
        <Button size="sm" variant="outline-primary" onClick={() => centre('y')}>Centre at 0°</Button>
      </div>
      {inked && (
        <p className="why figure" data-testid="ink-size">
          ink {formatLength(art.box.maxX - art.box.minX, units, 2)} × {formatLength(art.box.maxY - art.box.minY, units, 2)} {units}, {formatDeg(((art.box.maxY - art.box.minY) / surface.mmPerRad) * (180 / Math.PI), 1)} round
        </p>
      )}
      <div className="d-flex flex-wrap gap-3 mt-2">
        <Form.Check id="kerning" label="Kerning" checked={inscription.kerning} onChange={(e) => set({ kerning: e.target.checked })} />
        <Form.Check id="ligatures" label="Ligatures" checked={inscription.ligatures} onChange={(e) => set({ ligatures: e.target.checked })} />
        <Form.Check id="mirrored" label="Mirrored (stamp)" checked={inscription.mirrored} onChange={(e) => set({ mirrored: e.target.checked })} />
      </div>
      <Form.Group controlId="inscription-name" className="mt-2">
        <Form.Label>Name in lists and cuts</Form.Label>
        <Form.Control size="sm" value={inscription.name} onChange={(e) => set({ name: e.target.value })} />
      </Form.Group>
      <div className="d-flex gap-2 mt-2">
        <Button size="sm" variant="outline-primary" onClick={() => {
          const copy = freeId(job.inscriptions, 'words');
          bench.edit(`duplicate#${copy}`, (j) => ({ ...j, inscriptions: [...j.inscriptions, { ...inscription, id: copy, at: { ...inscription.at, turnDeg: inscription.at.turnDeg + 30 } }] }));
          bench.view.setState({ selected: copy });
        }}><CopyIcon size={13} /> Duplicate</Button>
        <Button size="sm" variant="outline-secondary" onClick={() => {
          bench.edit(`remove#${id}`, removeInscription(id));
          bench.view.setState({ selected: job.inscriptions.find((i) => i.id !== id)?.id ?? null });
        }}><TrashIcon size={13} /> Remove</Button>
      </div>
    </>
  );
}
