'use client';

import { wrapDeg } from '../../core/base/angle';
import { useRef } from 'react';
import { QuantityField } from '../common/QuantityField';
import { useBench, useJobPart, useView } from '../state/benchStore';

const R = 38;
const MAX_TURN_DEG = 36000;

/** Turns the blank: drag the ring, step with [ and ], or type the angle that faces the tool. */
export function TurnDial({ onFace }: { onFace(face: 'front' | 'end' | 'back'): void }) {
  const bench = useBench();
  const units = useJobPart((j) => j.units);
  const turnDeg = useView((v) => v.turnDeg);
  const ring = useRef<SVGSVGElement>(null);
  const from = useRef<{ pointer: number; turn: number } | null>(null);
  const angle = (e: React.PointerEvent) => {
    const box = ring.current!.getBoundingClientRect();
    return (Math.atan2(e.clientX - box.left - box.width / 2, box.top + box.height / 2 - e.clientY) * 180) / Math.PI;
  };
  const set = (deg: number) => bench.view.setState({ turnDeg: Math.round(wrapDeg(deg) * 10) / 10 });
  const ticks = Array.from({ length: 12 }, (_, k) => k * 30);
  return (
    <div className="dial" data-testid="turn-dial">
      <svg
        ref={ring}
        viewBox="-50 -50 100 100"
        role="slider"
        tabIndex={0}
        aria-label="Turn of the blank"
        aria-valuemin={-180}
        aria-valuemax={180}
        aria-valuenow={turnDeg}
        onPointerDown={(e) => {
          e.currentTarget.setPointerCapture(e.pointerId);
          from.current = { pointer: angle(e), turn: turnDeg };
        }}
        onPointerMove={(e) => {
          if (from.current) set(from.current.turn + angle(e) - from.current.pointer);
        }}
        onPointerUp={() => (from.current = null)}
        onKeyDown={(e) => {
          const step = { ArrowLeft: -5, ArrowDown: -5, ArrowRight: 5, ArrowUp: 5, Home: -turnDeg }[e.key];
          if (step === undefined) return;
          e.preventDefault();
          set(turnDeg + step);
        }}
      >
        <circle r={R} fill="none" stroke="var(--rule)" strokeWidth={9} />
        <g transform={`rotate(${turnDeg})`}>
          {ticks.map((t) => (
            <line
              key={t}
              y1={-R - 4}
              y2={-R + (t % 90 ? 1 : 5)}
              stroke="var(--ink)"
              strokeWidth={t % 90 ? 0.8 : 1.6}
              transform={`rotate(${t})`}
            />
          ))}
          <path d={`M0 ${-R - 5} l-5 11 h10 z`} fill="var(--brass)" />
        </g>
        <path d="M0 -24 l-4 -7 h8 z" fill="var(--verdigris)" transform="rotate(180 0 -28)" />
        <text y={5} textAnchor="middle" fontSize={15} fontFamily="var(--mono)" fill="var(--ink)">
          {Math.round(turnDeg)}°
        </text>
      </svg>
      <div className="side">
        <QuantityField
          kind="angle"
          value={turnDeg}
          units={units}
          ariaLabel="Turn in degrees"
          onValue={(v) => {
            if (Math.abs(v) > MAX_TURN_DEG) return `At most ${MAX_TURN_DEG}°`;
            set(v);
            return null;
          }}
        />
        <div className="faces">
          <button type="button" title="Turn back by 30° ([)" onClick={() => set(turnDeg - 30)}>
            −30°
          </button>
          <button type="button" title="Turn on by 30° (])" onClick={() => set(turnDeg + 30)}>
            +30°
          </button>
        </div>
        <div className="faces">
          <button type="button" onClick={() => onFace('front')}>
            Front
          </button>
          <button type="button" onClick={() => onFace('end')}>
            End
          </button>
          <button type="button" onClick={() => onFace('back')}>
            Back
          </button>
        </div>
      </div>
    </div>
  );
}
