'use client';

import { useId } from 'react';

export interface RadioOption<T extends string> {
  value: T;
  name: string;
  /** What is seen; the name if left out. */
  face?: React.ReactNode;
  disabled?: boolean;
  title?: string;
}

interface Props<T extends string> {
  className: string;
  label: string;
  value: T;
  options: readonly RadioOption<T>[];
  onValue(value: T): void;
}

/** One of several, side by side: the platform's own radio buttons, each lying unseen over its face, so that keys work as everywhere. */
export function RadioRow<T extends string>({ className, label, value, options, onValue }: Props<T>) {
  const name = useId();
  return (
    <div className={`radios ${className}`} role="radiogroup" aria-label={label}>
      {options.map((o) => (
        <label key={o.value} title={o.title} className={o.value === value ? 'here' : undefined}>
          <input
            type="radio"
            name={name}
            value={o.value}
            aria-label={o.name}
            checked={o.value === value}
            disabled={o.disabled}
            onChange={() => onValue(o.value)}
          />
          {o.face === undefined ? o.name : o.face}
        </label>
      ))}
    </div>
  );
}
