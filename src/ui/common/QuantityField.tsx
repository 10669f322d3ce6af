'use client';

import { roundTo } from '../../core/base/round';
import { useEffect, useId, useRef, useState } from 'react';
import { formatLength, type Units } from './format';
import { parseQuantity, type QuantityKind } from './quantity';

interface Props {
  label?: string;
  kind: QuantityKind;
  value: number;
  units: Units;
  /** Checks and takes the value in mm, degrees, mm/min; a text is why it cannot be taken. */
  onValue(value: number): string | null;
  autoFocus?: boolean;
  onDone?(): void;
  ariaLabel?: string;
}

/** Values that differ by less than this share are one: a field may show what was worked out from what it holds. */
const SAME = 1e-6;
const CORE_UNITS = { length: 'mm', angle: 'deg', feed: 'mm/min', number: '' };
const unitOf = (kind: QuantityKind, units: Units): string =>
  kind === 'length' ? units : kind === 'feed' ? `${units}/min` : CORE_UNITS[kind];

const show = (kind: QuantityKind, value: number, units: Units): string => {
  if (kind === 'length') return formatLength(value, units);
  if (kind === 'feed') return formatLength(value, units, units === 'mm' ? 1 : 2);
  return String(roundTo(value, 4));
};

/** A number with its unit: takes arithmetic and other units, applies on every readable keystroke, says what is wrong. */
export function QuantityField({ label, kind, value, units, onValue, autoFocus, onDone, ariaLabel }: Props) {
  const id = useId();
  const [text, setText] = useState<string | null>(null);
  const [wrong, setWrong] = useState<string | null>(null);
  /** The value before it was touched, and the one that typing made: another comes from elsewhere, and is shown. */
  const [before, setBefore] = useState<number | null>(null);
  const [typed, setTyped] = useState<number | null>(null);
  const [seen, setSeen] = useState(value);
  if (seen !== value) {
    setSeen(value);
    if (text !== null && (typed === null || Math.abs(typed - value) > SAME * Math.max(1, Math.abs(value)))) {
      setText(null);
      setWrong(null);
    }
  }
  const input = useRef<HTMLInputElement>(null);
  useEffect(() => {
    if (autoFocus) input.current?.select();
  }, [autoFocus]);
  const unit = unitOf(kind, units);
  const apply = (own: string) => {
    setText(own);
    const parsed = parseQuantity(own, kind, unit);
    setTyped(parsed.ok ? parsed.value : null);
    setWrong(parsed.ok ? onValue(parsed.value) : parsed.text);
  };
  /** Puts back what was there before. */
  const restore = () => {
    setText(null);
    setWrong(null);
    if (before !== null && before !== value) onValue(before);
  };
  const leave = () => {
    setText(null);
    setWrong(null);
    onDone?.();
  };
  return (
    <div className="quantity">
      {label && (
        <label className="form-label" htmlFor={id}>
          {label}
          {unit && <span className="ms-1">{unit.replace('deg', '°')}</span>}
        </label>
      )}
      <input
        id={id}
        ref={input}
        className={`form-control form-control-sm${wrong ? ' wrong' : ''}`}
        aria-label={ariaLabel}
        aria-invalid={wrong !== null}
        aria-describedby={wrong ? `${id}-wrong` : undefined}
        value={text ?? show(kind, value, units)}
        autoFocus={autoFocus}
        autoComplete="off"
        spellCheck={false}
        onChange={(e) => apply(e.target.value)}
        onFocus={(e) => {
          setBefore(value);
          e.target.select();
        }}
        onBlur={leave}
        onKeyDown={(e) => {
          if (e.key === 'Escape') restore();
          if (e.key === 'Enter' || e.key === 'Escape') e.currentTarget.blur();
        }}
      />
      {wrong && (
        <div className="wrong-text" id={`${id}-wrong`} role="alert">
          {wrong}
        </div>
      )}
    </div>
  );
}
