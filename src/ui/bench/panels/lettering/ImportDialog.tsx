'use client';

import { lineToPathData } from '../../../../core/base/svgPath';
import { useEffect, useRef, useState } from 'react';
import Modal from 'react-bootstrap/Modal';
import ProgressBar from 'react-bootstrap/ProgressBar';
import type { CleanOptions } from '../../../../core/import/clean';
import { createImportWorker, type ImportAnswer, type WorkerFailure } from '../../../../workers/planning.client';
import { Button } from '../../../common/Button';
import { Choice, Tick } from '../../../common/fields';
import { QuantityField } from '../../../common/QuantityField';
import { useJobPart } from '../../../state/benchStore';

type Layers = Extract<ImportAnswer, { ok: true }>['layers'];
interface Props {
  file: File;
  onTake(layers: Layers): void;
  onClose(): void;
}

const DEADLINE_MS = 120_000;
const count = (n: number, one: string, many = `${one}s`) => `${n} ${n === 1 ? one : many}`;

/** A drawing on its way in: what it holds, what was cleaned, how it will look. */
export function ImportDialog({ file, onTake, onClose }: Props) {
  const units = useJobPart((j) => j.units);
  const [options, setOptions] = useState<CleanOptions>({ joinMm: 0.05, layers: null, closedAreAreas: false });
  const [unitMm, setUnitMm] = useState(1);
  const [answer, setAnswer] = useState<ImportAnswer | null>(null);
  const [progress, setProgress] = useState<number | null>(0);
  const worker = useRef<ReturnType<typeof createImportWorker> | null>(null);
  const abort = useRef<AbortController | null>(null);
  useEffect(() => {
    const made = createImportWorker();
    worker.current = made;
    return () => made.dispose();
  }, []);
  useEffect(() => {
    const controller = new AbortController();
    abort.current = controller;
    // A moment's wait, so that a number being typed does not start the work at every digit.
    const timer = setTimeout(() => {
      setProgress(0);
      worker
        .current!.call({ file, options, unitMm }, { signal: controller.signal, deadlineMs: DEADLINE_MS, onProgress: setProgress })
        .then(
          setAnswer,
          (error: WorkerFailure) =>
            error.kind !== 'cancelled' && setAnswer({ ok: false, text: `${file.name} could not be read: ${error.message}` }),
        )
        .finally(() => !controller.signal.aborted && setProgress(null));
    }, 150);
    return () => {
      clearTimeout(timer);
      controller.abort();
    };
  }, [file, options, unitMm]);

  const set = (patch: Partial<CleanOptions>) => setOptions({ ...options, ...patch });
  const layers = answer?.ok ? answer.layers : [];
  const on = layers.filter((l) => l.on);
  return (
    <Modal show centered size="lg" onHide={onClose} aria-labelledby="import-title">
      <Modal.Header closeButton>
        <Modal.Title id="import-title" as="h2" className="h5">
          Artwork from {file.name}
        </Modal.Title>
      </Modal.Header>
      <Modal.Body className="import">
        <div>
          {progress !== null && (
            <div className="mb-2" role="status">
              Reading… <ProgressBar now={100 * progress} />
              <Button
                size="sm"
                variant="link"
                className="p-0"
                onClick={() => {
                  abort.current?.abort();
                  onClose();
                }}
              >
                Stop
              </Button>
            </div>
          )}
          {answer && !answer.ok && (
            <p role="alert" className="text-danger">
              {answer.text}
            </p>
          )}
          {answer?.ok && (
            <>
              <Preview layers={on} />
              <p className="why figure" data-testid="import-report">
                {count(answer.report.areas, 'outline')} to carve, {count(answer.report.strokes, 'line')} to engrave. Joined{' '}
                {count(answer.report.joined, 'end')}, closed {count(answer.report.closedGaps, 'gap')}, dropped{' '}
                {count(answer.report.duplicates, 'duplicate')} and {count(answer.report.zeroLength, 'piece')} without length;{' '}
                {answer.report.ringsIn} closed lines became {answer.report.ringsOut} clean outlines.
              </p>
              {answer.notes.map((n) => (
                <p key={n} className="why">
                  {n[0]!.toUpperCase() + n.slice(1)}.
                </p>
              ))}
            </>
          )}
        </div>
        <div className="side">
          <QuantityField
            label="Join ends within"
            kind="length"
            value={options.joinMm}
            units={units}
            onValue={(v) => {
              if (!(v >= 0 && v <= 10)) return 'From 0 to 10 mm';
              set({ joinMm: v });
              return null;
            }}
          />
          {/\.dxf$/i.test(file.name) && (
            <Choice
              label="A drawing unit, if not said"
              value={String(unitMm)}
              options={[
                ['1', 'a millimetre'],
                ['25.4', 'an inch'],
                ['10', 'a centimetre'],
              ]}
              onValue={(v) => setUnitMm(Number(v))}
            />
          )}
          <Tick label="Closed lines are areas" checked={options.closedAreAreas} onValue={(v) => set({ closedAreAreas: v })} />
          <h3>Layers</h3>
          {layers.map((l) => (
            <Tick
              key={l.name}
              label={l.name}
              checked={options.layers === null || options.layers.includes(l.name)}
              onValue={(v) => {
                const now = options.layers ?? layers.map((x) => x.name);
                set({ layers: v ? [...now, l.name] : now.filter((n) => n !== l.name) });
              }}
            />
          ))}
        </div>
      </Modal.Body>
      <Modal.Footer>
        <Button variant="outline-primary" onClick={onClose}>
          Leave it
        </Button>
        <Button disabled={progress !== null || on.length === 0} onClick={() => onTake(layers)}>
          Put it on the sheet
        </Button>
      </Modal.Footer>
    </Modal>
  );
}

const toData = (lines: readonly (readonly number[])[], closed: boolean): string =>
  lines.map((xy) => lineToPathData(xy, { closed, yDown: true })).join('');

function Preview({ layers }: { layers: Layers }) {
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const l of layers)
    for (const xy of [...l.rings, ...l.chains])
      for (let i = 0; i < xy.length; i += 2) {
        x0 = Math.min(x0, xy[i]!);
        x1 = Math.max(x1, xy[i]!);
        y0 = Math.min(y0, -xy[i + 1]!);
        y1 = Math.max(y1, -xy[i + 1]!);
      }
  if (!(x1 >= x0)) return null;
  const pad = 0.05 * Math.max(x1 - x0, y1 - y0, 0.1);
  return (
    <>
      <svg
        className="preview"
        viewBox={`${x0 - pad} ${y0 - pad} ${x1 - x0 + 2 * pad} ${y1 - y0 + 2 * pad}`}
        role="img"
        aria-label="How it will look"
      >
        <path d={layers.map((l) => toData(l.rings, true)).join('')} fill="var(--ink)" fillRule="nonzero" />
        <path
          d={layers.map((l) => toData(l.chains, false)).join('')}
          fill="none"
          stroke="var(--verdigris)"
          strokeWidth={1.5}
          vectorEffect="non-scaling-stroke"
        />
      </svg>
      <p className="why">
        {(x1 - x0).toFixed(2)} × {(y1 - y0).toFixed(2)} mm
      </p>
    </>
  );
}
