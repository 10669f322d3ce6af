'use client';

import { useRef, useState } from 'react';
import Dropdown from 'react-bootstrap/Dropdown';
import {
  ArrowDownIcon,
  ArrowUpIcon,
  CopyIcon,
  EyeIcon,
  EyeSlashIcon,
  LockSimpleIcon,
  LockSimpleOpenIcon,
  PlusIcon,
  TrashIcon,
} from '@phosphor-icons/react';
import { toFileStem } from '../../../../core/base/fileStem';
import { createArtwork, createInscription, createSeries } from '../../../../core/job/defaults';
import { createSetupOn } from '../../../../core/pipeline/setup';
import { toUnrolledSvg } from '../../../../core/export/unrolledSvg';
import type { Inscription, Job } from '../../../../core/job/schema';
import { getTitle } from '../../../../core/job/title';
import type { LetteringView, PlanView } from '../../../../workers/planning.client';
import { roundTo } from '../../../../core/base/round';
import { findRoom } from '../../../../core/lay/findRoom';
import { toTurnDeg } from '../../../../core/surface/surface';
import { roundFor } from '../../../common/roundFor';
import { Button } from '../../../common/Button';
import { FileInput } from '../../../common/FileButton';
import { saveFile } from '../../../common/saveFile';
import { TextField } from '../../../common/fields';
import { freeId, patchInscription, removeInscription, useBench, useJob, useView, type InscriptionPatch } from '../../../state/benchStore';
import { useSurface } from '../../../state/useSurface';
import { selectOnly, toggleSelected } from '../../../state/selection';
import type { FontCard } from '../../../../core/lettering/fontCard';
import { ArtworkForm } from './ArtworkForm';
import { GuidesFold } from './GuidesFold';
import { ImportDialog } from './ImportDialog';
import { PlaceFields } from './PlaceFields';
import { SeriesForm } from './SeriesForm';
import { Together } from './Together';
import { VariablesFold } from './VariablesFold';
import { WordsForm } from './WordsForm';

const OUTLINE_FONT = 'dejavu-sans-bold';
const STROKE_FONT = 'hershey-sans';
const MAX_ARTWORK_BYTES = 30 * 1024 * 1024;

interface Props {
  lettering: LetteringView | null;
  plan: PlanView | null;
  fonts: readonly FontCard[];
}

/** About how long and how high new lettering is, mm. */
function sizeOf(i: Inscription): [number, number] {
  if (i.kind === 'text') return [0.8 * i.heightMm * i.text.length, i.heightMm];
  if (i.kind === 'series') return i.shape === 'along' ? [i.spanMm, 3 * i.heightMm + i.major.lengthMm] : [2 * i.radiusMm, 2 * i.radiusMm];
  const xs = i.layers.flatMap((l) => [...l.rings, ...l.chains]).flat();
  const span = (k: number): number => {
    let min = Infinity,
      max = -Infinity;
    for (let n = k; n < xs.length; n += 2) {
      min = Math.min(min, xs[n]!);
      max = Math.max(max, xs[n]!);
    }
    return max > min ? i.scaleRatio * (max - min) : 0;
  };
  return [span(0), span(1)];
}

/** The lettering of the job: words, scales, artwork, and what helps to place them. */
export function LetteringPanel({ lettering, plan, fonts }: Props) {
  const bench = useBench();
  const job = useJob();
  const selected = useView((v) => v.selected);
  const selection = useView((v) => v.selection);
  const chosen = job.inscriptions.find((i) => i.id === selected);
  const file = useRef<HTMLInputElement>(null);
  const [importing, setImporting] = useState<File | null>(null);
  const [refusal, setRefusal] = useState<string | null>(null);

  const surface = useSurface();
  /** The same where there is room for it, with sizes round in the job's units. */
  const settle = (made: Inscription): Inscription => {
    const own = roundFor(job.units, made);
    const [width, height] = sizeOf(own);
    const turned = Math.abs(Math.sin((own.rotationDeg * Math.PI) / 180)) > 0.5;
    const boxes = (lettering?.inscriptions ?? []).map((i) => i.box).filter((b) => b.minX <= b.maxX);
    const { domain, periodMm } = surface;
    const gapMm = 1;
    const { xMm, yMm } = findRoom(domain, boxes, turned ? height : width, turned ? width : height, gapMm, periodMm);
    const start = own.kind === 'series' && own.shape === 'along' ? xMm - width / 2 : xMm;
    return { ...own, at: { xMm: roundTo(start, 3), turnDeg: roundTo(toTurnDeg(surface, yMm), 3) } };
  };
  const put = (make: (id: string) => Inscription, stem: string) => {
    const id = freeId(job.inscriptions, stem);
    const refused = bench.edit(`add#${id}`, (j) => ({ ...j, inscriptions: [...j.inscriptions, settle(make(id))] }));
    setRefusal(refused);
    if (!refused) selectOnly(bench, [id]);
  };
  const middle = (surface.domain.minX + surface.domain.maxX) / 2;
  const withSha = <T extends Inscription>(i: T): T =>
    i.kind === 'artwork' ? i : { ...i, fontSha256: fonts.find((f) => 'id' in i.font && f.id === i.font.id)?.sha256 ?? '' };
  const addWords = () => put((id) => withSha(createInscription(id, 'NEW WORDS', OUTLINE_FONT, middle)), 'words');
  const choose = (f: File) => {
    if (f.size > MAX_ARTWORK_BYTES)
      setRefusal(`${f.name} has ${(f.size / 1048576).toFixed(1)} MB; up to ${MAX_ARTWORK_BYTES / 1048576} MB can be read`);
    else {
      setRefusal(null);
      setImporting(f);
    }
  };
  const saveSheet = (kind: 'svg' | 'dxf') => {
    if (!lettering) return;
    const all = { artworks: lettering.artworks, findings: [] };
    const save = (text: string) => saveFile(`${toFileStem(job.name)}-sheet.${kind}`, text);
    if (kind === 'svg') return save(toUnrolledSvg(createSetupOn(job, surface), all, plan));
    setRefusal(null);
    // Its code is fetched when it is asked for: few ask.
    import('../../../../core/export/sheetDxf').then(
      ({ toSheetDxf }) => save(toSheetDxf(all, surface)),
      () => setRefusal('The sheet was not saved: Hobel’s server does not answer. Try again when it does.'),
    );
  };
  return (
    <>
      <div className="d-flex align-items-center gap-2 mb-1">
        <h2 className="flex-grow-1 mb-0">Lettering</h2>
        <Button size="sm" variant="outline-primary" onClick={addWords}>
          <PlusIcon size={13} /> Add
        </Button>
        <Dropdown align="end">
          <Dropdown.Toggle size="sm" variant="outline-primary" aria-label="Add something else or save the sheet">
            More
          </Dropdown.Toggle>
          <Dropdown.Menu>
            <Dropdown.Item onClick={() => put((id) => withSha(createSeries(id, STROKE_FONT, 10)), 'scale')}>
              Add a scale or dial
            </Dropdown.Item>
            <Dropdown.Item onClick={() => file.current?.click()}>Add artwork from SVG or DXF…</Dropdown.Item>
            <Dropdown.Divider />
            <Dropdown.Item
              onClick={() =>
                selectOnly(
                  bench,
                  job.inscriptions.map((i) => i.id),
                )
              }
            >
              Select all lettering
            </Dropdown.Item>
            <Dropdown.Divider />
            <Dropdown.Item onClick={() => saveSheet('svg')}>Save the sheet as SVG</Dropdown.Item>
            <Dropdown.Item onClick={() => saveSheet('dxf')}>Save the sheet as DXF</Dropdown.Item>
          </Dropdown.Menu>
        </Dropdown>
        <FileInput ref={file} accept=".svg,.dxf,image/svg+xml" label="Artwork file" onFiles={([f]) => choose(f!)} />
      </div>
      {refusal && (
        <p className="small text-danger" role="alert">
          {refusal}
        </p>
      )}
      <div className="chooser" role="listbox" aria-label="Inscriptions" aria-multiselectable="true">
        {job.inscriptions.map((i) => (
          <button
            key={i.id}
            type="button"
            role="option"
            aria-selected={selection.includes(i.id)}
            className={`row-item${selection.includes(i.id) ? ' selected' : ''}${i.hidden ? ' hidden-item' : ''}`}
            onClick={(e) => (e.ctrlKey || e.metaKey || e.shiftKey ? toggleSelected(bench, i.id) : selectOnly(bench, [i.id]))}
          >
            <span className="grow">{i.kind === 'text' ? i.text.split('\n')[0] || 'empty' : getTitle(i)}</span>
            <span className="small">
              {i.kind === 'text' ? i.name : ''}
              {i.group && ` · ${i.group}`}
              {i.locked && ' · locked'}
              {i.hidden && ' · hidden'}
            </span>
          </button>
        ))}
        {job.inscriptions.length === 0 && <p className="why">Nothing yet. Add an inscription and type its words.</p>}
      </div>
      <Together lettering={lettering} />
      {chosen && <Chosen key={chosen.id} inscription={chosen} lettering={lettering} fonts={fonts} />}
      <GuidesFold />
      <VariablesFold />
      {importing && (
        <ImportDialog
          file={importing}
          onClose={() => setImporting(null)}
          onTake={(layers) => {
            put((id) => createArtwork(id, importing.name.slice(0, 120), middle, layers), 'artwork');
            setImporting(null);
          }}
        />
      )}
    </>
  );
}

function Chosen({
  inscription,
  lettering,
  fonts,
}: {
  inscription: Inscription;
  lettering: LetteringView | null;
  fonts: readonly FontCard[];
}) {
  const bench = useBench();
  const job = useJob();
  const { id } = inscription;
  const set = (patch: InscriptionPatch) => bench.edit(`${id} ${Object.keys(patch).join()}`, patchInscription(id, patch));
  const at = job.inscriptions.findIndex((i) => i.id === id);
  const move = (by: -1 | 1) =>
    bench.edit(`order#${id}`, (j: Job) => {
      const list = [...j.inscriptions];
      list.splice(at + by, 0, ...list.splice(at, 1));
      return { ...j, inscriptions: list };
    });
  const duplicate = () => {
    const copy = freeId(job.inscriptions, inscription.kind === 'text' ? 'words' : inscription.kind === 'series' ? 'scale' : 'artwork');
    bench.edit(`duplicate#${copy}`, (j: Job) => ({
      ...j,
      inscriptions: [
        ...j.inscriptions,
        { ...inscription, id: copy, group: '', at: { ...inscription.at, turnDeg: inscription.at.turnDeg + 30 } },
      ],
    }));
    selectOnly(bench, [copy]);
  };
  const remove = () => {
    bench.edit(`remove#${id}`, removeInscription(id));
    const next = job.inscriptions.find((i) => i.id !== id);
    selectOnly(bench, next ? [next.id] : []);
  };
  return (
    <>
      <div className="together" role="toolbar" aria-label="This inscription">
        <button
          type="button"
          title={inscription.locked ? 'Unlock its place' : 'Lock its place'}
          aria-label={inscription.locked ? 'Unlock its place' : 'Lock its place'}
          aria-pressed={inscription.locked}
          onClick={() => set({ locked: !inscription.locked })}
        >
          {inscription.locked ? <LockSimpleIcon size={16} /> : <LockSimpleOpenIcon size={16} />}
        </button>
        <button
          type="button"
          title={inscription.hidden ? 'Show it' : 'Hide it: neither shown nor cut'}
          aria-label={inscription.hidden ? 'Show it' : 'Hide it'}
          aria-pressed={inscription.hidden}
          onClick={() => set({ hidden: !inscription.hidden })}
        >
          {inscription.hidden ? <EyeSlashIcon size={16} /> : <EyeIcon size={16} />}
        </button>
        <button type="button" title="Earlier in the list" aria-label="Earlier" disabled={at === 0} onClick={() => move(-1)}>
          <ArrowUpIcon size={16} />
        </button>
        <button
          type="button"
          title="Later in the list"
          aria-label="Later"
          disabled={at === job.inscriptions.length - 1}
          onClick={() => move(1)}
        >
          <ArrowDownIcon size={16} />
        </button>
        <button type="button" title="Duplicate" aria-label="Duplicate" onClick={duplicate}>
          <CopyIcon size={16} />
        </button>
        <button type="button" title="Remove" aria-label="Remove" onClick={remove}>
          <TrashIcon size={16} />
        </button>
      </div>
      {inscription.kind === 'text' && (
        <WordsForm inscription={inscription} fonts={fonts} box={lettering?.inscriptions.find((i) => i.id === id)?.box ?? null} set={set} />
      )}
      {inscription.kind === 'series' && <SeriesForm inscription={inscription} fonts={fonts} set={set} />}
      {inscription.kind === 'artwork' && <ArtworkForm inscription={inscription} lettering={lettering} set={set} />}
      <PlaceFields inscription={inscription} lettering={lettering} set={set} />
      <div className="mt-1">
        <TextField label="Name in lists and cuts" value={inscription.name} maxLength={120} onValue={(name) => set({ name })} />
      </div>
    </>
  );
}
