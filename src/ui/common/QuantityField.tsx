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
  const input = useRef<HTMLInputElement>(null);
  useEffect(() => {
    if (autoFocus) input.current?.select();
  }, [autoFocus]);
  const unit = unitOf(kind, units);
  const apply = (typed: string) => {
    setText(typed);
    const parsed = parseQuantity(typed, kind, unit);
    setWrong(parsed.ok ? onValue(parsed.value) : parsed.text);
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
        onFocus={(e) => e.target.select()}
        onBlur={leave}
        onKeyDown={(e) => {
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
