'use client';

import { useId } from 'react';
import Form from 'react-bootstrap/Form';

/** A choice among words, with its label. */
export function Choice<T extends string>({
  label,
  value,
  options,
  onValue,
  wide,
}: {
  label: string;
  value: T;
  options: readonly (readonly [T, string])[];
  onValue(value: T): void;
  wide?: boolean;
}) {
  const id = useId();
  return (
    <Form.Group controlId={id} className={wide ? 'wide' : undefined}>
      <Form.Label>{label}</Form.Label>
      <Form.Select size="sm" value={value} onChange={(e) => onValue(e.target.value as T)}>
        {options.map(([v, text]) => (
          <option key={v} value={v}>
            {text}
          </option>
        ))}
      </Form.Select>
    </Form.Group>
  );
}

/** A yes or no with its label. */
export function Tick({
  label,
  checked,
  onValue,
  title,
}: {
  label: string;
  checked: boolean;
  onValue(value: boolean): void;
  title?: string;
}) {
  const id = useId();
  return <Form.Check id={id} label={label} title={title} checked={checked} onChange={(e) => onValue(e.target.checked)} />;
}

/** A line of text with its label. */
export function TextField({
  label,
  value,
  onValue,
  wide,
  maxLength,
}: {
  label: string;
  value: string;
  onValue(value: string): void;
  wide?: boolean;
  maxLength?: number;
}) {
  const id = useId();
  return (
    <Form.Group controlId={id} className={wide ? 'wide' : undefined}>
      <Form.Label>{label}</Form.Label>
      <Form.Control
        size="sm"
        value={value}
        maxLength={maxLength}
        spellCheck={false}
        autoComplete="off"
        onChange={(e) => onValue(e.target.value)}
      />
    </Form.Group>
  );
}

/** A heading that folds what is under it; says in brief what is set while it is folded. */
export function Fold({ title, brief, open, children }: { title: string; brief?: string; open?: boolean; children: React.ReactNode }) {
  return (
    <details className="fold" open={open}>
      <summary>
        <span className="name">{title}</span>
        {brief && <span className="brief">{brief}</span>}
      </summary>
      <div className="inside">{children}</div>
    </details>
  );
}
