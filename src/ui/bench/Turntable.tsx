'use client';

import { toFileStem } from '../../core/base/fileStem';
import { wrapDeg } from '../../core/base/angle';
import { useRef, useState } from 'react';
import type { RootState } from '@react-three/fiber';
import { useBench, useJobPart } from '../state/benchStore';
import { saveFile } from '../common/saveFile';

const FRAMES = 72;
const FRAMES_A_SECOND = 24;

/** What kind of film this browser can make by itself, or null. */
function findFilmType(): string | null {
  if (typeof MediaRecorder === 'undefined' || typeof HTMLCanvasElement.prototype.captureStream !== 'function') return null;
  return (
    ['video/webm;codecs=vp9', 'video/webm;codecs=vp8', 'video/webm', 'video/mp4'].find((t) => MediaRecorder.isTypeSupported(t)) ?? null
  );
}

const frame = () => new Promise<void>((resolve) => requestAnimationFrame(() => resolve()));

/** Shows the piece to the customer: spins it once, saves a picture, or a short film of the spin. */
export function Turntable({ three }: { three: React.RefObject<RootState | null> }) {
  const bench = useBench();
  const name = useJobPart((j) => j.name);
  const [busy, setBusy] = useState<'spin' | 'film' | null>(null);
  const [told, setTold] = useState<string | null>(null);
  const stop = useRef(false);
  const draw = () => {
    const t = three.current!;
    t.gl.render(t.scene, t.camera);
  };
  /** Turns the piece once round, frame by frame, and back to where it was. */
  const spin = async (each?: () => Promise<void>) => {
    const start = bench.view.getState().turnDeg;
    for (let k = 1; k <= FRAMES && !stop.current; k++) {
      const turn = start + (360 * k) / FRAMES;
      bench.view.setState({ turnDeg: wrapDeg(turn) });
      await frame();
      await each?.();
    }
    bench.view.setState({ turnDeg: start });
  };
  const run = async (kind: 'spin' | 'film', work: () => Promise<void>) => {
    if (busy) {
      stop.current = true;
      return;
    }
    stop.current = false;
    setBusy(kind);
    setTold(null);
    try {
      await work();
    } catch (error) {
      setTold(`It could not be recorded: ${(error as Error).message}`);
    } finally {
      setBusy(null);
    }
  };
  const film = () =>
    run('film', async () => {
      const type = findFilmType();
      if (!type) return setTold('This browser cannot record a film; save a picture instead');
      const { gl } = three.current!;
      const stream = gl.domElement.captureStream(0);
      const track = stream.getVideoTracks()[0] as MediaStreamTrack & { requestFrame?(): void };
      const recorder = new MediaRecorder(stream, { mimeType: type, videoBitsPerSecond: 6_000_000 });
      const parts: Blob[] = [];
      recorder.ondataavailable = (e) => parts.push(e.data);
      const ended = new Promise<void>((resolve) => (recorder.onstop = () => resolve()));
      recorder.start();
      await spin(async () => {
        draw();
        track.requestFrame?.();
        await new Promise((resolve) => setTimeout(resolve, 1000 / FRAMES_A_SECOND));
      });
      recorder.stop();
      await ended;
      if (!stop.current) saveFile(`${toFileStem(name)}.${type.includes('mp4') ? 'mp4' : 'webm'}`, new Blob(parts, { type }));
    });
  const picture = () => {
    draw();
    three.current!.gl.domElement.toBlob((blob) => blob && saveFile(`${toFileStem(name)}.png`, blob), 'image/png');
  };
  return (
    <>
      <button type="button" aria-pressed={busy === 'spin'} title="Turn the piece once round" onClick={() => void run('spin', () => spin())}>
        Spin
      </button>
      <button type="button" title="Save what is seen as a PNG" onClick={picture}>
        Picture
      </button>
      <button type="button" aria-pressed={busy === 'film'} title="Record one turn as a short film" onClick={() => void film()}>
        {busy === 'film' ? 'Stop' : 'Film'}
      </button>
      {told && (
        <span role="alert" className="text-danger ms-1">
          {told}
        </span>
      )}
    </>
  );
}
