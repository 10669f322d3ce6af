'use client';

import { roundTo } from '../../../../core/base/round';
import { lineToPathData } from '../../../../core/base/svgPath';
import { useRef, useState } from 'react';
import { PlusIcon, TrashIcon } from '@phosphor-icons/react';
import { getTurnedSizes } from '../../../../core/job/blankText';
import type { BlankOf } from '../../../../core/job/schema';
import { createMeridian, type MeridianNode } from '../../../../core/surface/meridian';
import { createProfileNodes, PROFILE_SHAPES, type ProfileShape } from '../../../../core/surface/profileShapes';
import { createProfileWorker, type ProfileAnswer } from '../../../../workers/planning.client';
import { Button } from '../../../common/Button';
import { FileButton } from '../../../common/FileButton';
import { QuantityField } from '../../../common/QuantityField';
import { useBench } from '../../../state/benchStore';
import { RoundFields, type FormProps } from './forms';

type Turned = BlankOf<'turned'>;
const SHAPE_WORDS: Record<ProfileShape, string> = { barrel: 'Barrel', waist: 'Waist', dome: 'Dome', ball: 'Ball' };
const DEADLINE_MS = 60_000;
const round = (v: number): number => Math.round(v * 1000) / 1000;

/** A turned profile: as a table, drawn by its points, from a ready shape, or from a drawing. */
export function ProfileForm({ blank, put, units }: FormProps<Turned>) {
  const bench = useBench();
  const [told, setTold] = useState<{ ok: boolean; text: string } | null>(null);
  const nodes = blank.profile;
  const set = (profile: MeridianNode[], name = 'profile') => put(name, { ...blank, profile });
  const change = (i: number, patch: Partial<MeridianNode>) =>
    set(
      nodes.map((n, k) => (k === i ? { ...n, ...patch } : n)),
      `profile ${i} ${Object.keys(patch).join()}`,
    );
  const chord = (i: number): number => {
    const a = nodes[i]!,
      b = nodes[i + 1]!;
    return Math.hypot(b.xMm - a.xMm, (b.diameterMm - a.diameterMm) / 2);
  };
  const sizes = getTurnedSizes(nodes);
  const most = roundTo(sizes.diameterMm, 4),
    length = Math.max(0.5, sizes.lengthMm);
  const insert = (i: number) => {
    const a = nodes[i]!,
      b = nodes[i + 1]!;
    const middle: MeridianNode = {
      xMm: round((a.xMm + b.xMm) / 2),
      diameterMm: round((a.diameterMm + b.diameterMm) / 2),
      join: 'smooth',
      bulge: 0,
    };
    set([...nodes.slice(0, i), { ...a, bulge: 0 }, middle, ...nodes.slice(i + 1)], bench.nameStep('profile'));
  };
  const take = async (chosen: File) => {
    const worker = createProfileWorker();
    try {
      const answer: ProfileAnswer = await worker.call({ file: chosen, unitMm: 1, profile: true }, { deadlineMs: DEADLINE_MS });
      if (!answer.ok) return setTold({ ok: false, text: answer.text });
      const refused = set(answer.nodes, bench.nameStep('profile'));
      setTold(
        refused
          ? { ok: false, text: `${chosen.name}: ${refused}` }
          : { ok: true, text: [`${answer.nodes.length} places from ${chosen.name}`, ...answer.notes].join('; ') },
      );
    } catch (error) {
      setTold({ ok: false, text: `${chosen.name} could not be read: ${(error as Error).message}` });
    } finally {
      worker.dispose();
    }
  };
  return (
    <>
      <ProfileSketch
        nodes={nodes}
        onMove={(i, patch, name) =>
          set(
            nodes.map((n, k) => (k === i ? { ...n, ...patch } : n)),
            name,
          )
        }
      />
      <div className="d-flex flex-wrap gap-1 mb-2">
        {PROFILE_SHAPES.map((s) => (
          <Button
            key={s}
            size="sm"
            variant="outline-primary"
            onClick={() => set(createProfileNodes(s, most || 40, length), bench.nameStep('profile'))}
          >
            {SHAPE_WORDS[s]}
          </Button>
        ))}
        <FileButton size="sm" variant="outline-primary" accept=".dxf,.svg" label="Profile from a drawing" onFiles={([f]) => void take(f!)}>
          DXF or SVG…
        </FileButton>
      </div>
      {told && (
        <p className={told.ok ? 'why' : 'text-danger'} role={told.ok ? 'status' : 'alert'}>
          {told.text}
        </p>
      )}
      <table className="profile">
        <thead>
          <tr>
            <th>x</th>
            <th>Ø</th>
            <th title="Corner, or smooth: a spline goes through smooth places">join</th>
            <th title="Height of an arc over the straight way to the next place; 0 for straight or spline">arc to next</th>
            <th>
              <span className="visually-hidden">Remove</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {nodes.map((n, i) => (
            <tr key={i}>
              <td>
                <QuantityField
                  ariaLabel={`x of place ${i + 1}`}
                  kind="length"
                  value={n.xMm}
                  units={units}
                  onValue={(v) => change(i, { xMm: v })}
                />
              </td>
              <td>
                <QuantityField
                  ariaLabel={`Diameter of place ${i + 1}`}
                  kind="length"
                  value={n.diameterMm}
                  units={units}
                  onValue={(v) => change(i, { diameterMm: v })}
                />
              </td>
              <td>
                <select
                  className="form-select form-select-sm"
                  aria-label={`Join at place ${i + 1}`}
                  value={n.join}
                  onChange={(e) => change(i, { join: e.target.value as MeridianNode['join'] })}
                >
                  <option value="corner">corner</option>
                  <option value="smooth">smooth</option>
                </select>
              </td>
              <td>
                {i + 1 < nodes.length && (
                  <QuantityField
                    ariaLabel={`Arc after place ${i + 1}`}
                    kind="length"
                    value={(n.bulge * chord(i)) / 2}
                    units={units}
                    onValue={(v) => change(i, { bulge: (2 * v) / Math.max(1e-9, chord(i)) })}
                  />
                )}
              </td>
              <td className="text-nowrap">
                {i + 1 < nodes.length && (
                  <Button
                    size="sm"
                    variant="link"
                    className="p-0"
                    title="Place after this one"
                    aria-label={`Add a place after ${i + 1}`}
                    onClick={() => insert(i)}
                  >
                    <PlusIcon size={13} />
                  </Button>
                )}
                {nodes.length > 2 && (
                  <Button
                    size="sm"
                    variant="link"
                    className="p-0 text-secondary"
                    aria-label={`Remove place ${i + 1}`}
                    onClick={() =>
                      set(
                        nodes.filter((_, k) => k !== i),
                        bench.nameStep('profile'),
                      )
                    }
                  >
                    <TrashIcon size={13} />
                  </Button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <RoundFields blank={blank} put={put} units={units} />
    </>
  );
}

const W = 300,
  H = 96;

/** The profile with its places, to be dragged. */
function ProfileSketch({
  nodes,
  onMove,
}: {
  nodes: readonly MeridianNode[];
  onMove(i: number, patch: Partial<MeridianNode>, name: string): void;
}) {
  const svg = useRef<SVGSVGElement>(null);
  const [drag, setDrag] = useState<{ i: number; name: string; k: number; x0: number } | null>(null);
  const made = createMeridian(nodes);
  const xs = nodes.map((n) => n.xMm),
    most = Math.max(0.5, made.ok ? made.value.maxRadiusMm : 0, ...nodes.map((n) => n.diameterMm / 2));
  const x0 = drag?.x0 ?? Math.min(...xs);
  // While a place is dragged the scale stands still, or the hand would chase it.
  const k = drag?.k ?? Math.min((W - 30) / Math.max(0.5, Math.max(...xs) - Math.min(...xs)), (H - 26) / most);
  const X = (x: number) => 15 + k * (x - x0),
    Y = (r: number) => H - 10 - k * r;
  const o = new Float64Array(5);
  const line = made.ok
    ? lineToPathData(
        Array.from({ length: 161 }, (_, i) => {
          made.value.at((i / 160) * made.value.lengthMm, o);
          return [X(o[0]!), Y(o[1]!)];
        }).flat(),
        { closed: false, decimals: 1 },
      )
    : '';
  return (
    <svg
      ref={svg}
      viewBox={`0 0 ${W} ${H}`}
      className="w-100 mb-1"
      role="img"
      aria-label="Profile: drag its places"
      style={{ touchAction: 'none' }}
      onPointerMove={(e) => {
        if (!drag) return;
        const box = svg.current!.getBoundingClientRect();
        const px = ((e.clientX - box.left) / box.width) * W,
          py = ((e.clientY - box.top) / box.height) * H;
        onMove(
          drag.i,
          { xMm: round((px - 15) / drag.k + drag.x0), diameterMm: Math.max(0, round((2 * (H - 10 - py)) / drag.k)) },
          drag.name,
        );
      }}
      onPointerUp={() => setDrag(null)}
      onPointerCancel={() => setDrag(null)}
    >
      <line x1={4} x2={W - 4} y1={H - 10} y2={H - 10} stroke="var(--soft)" strokeDasharray="10 3 2 3" />
      {line && <path d={line} fill="none" stroke="var(--ink)" strokeWidth={1.4} />}
      {nodes.map((n, i) => (
        <circle
          key={i}
          cx={X(n.xMm)}
          cy={Y(n.diameterMm / 2)}
          r={4.5}
          fill={n.join === 'smooth' ? 'var(--leaf)' : 'var(--brass)'}
          stroke="var(--brass)"
          strokeWidth={2}
          style={{ cursor: 'grab' }}
          onPointerDown={(e) => {
            e.currentTarget.ownerSVGElement!.setPointerCapture(e.pointerId);
            setDrag({ i, name: `profile#${e.timeStamp}`, k, x0 });
          }}
        >
          <title>
            {n.join === 'smooth' ? 'smooth' : 'corner'}, x {n.xMm}, Ø {n.diameterMm}
          </title>
        </circle>
      ))}
    </svg>
  );
}
