'use client';

import { useId, useState } from 'react';
import Form from 'react-bootstrap/Form';

/**
 * A name, taken when the field is left; one that is refused is said, and the field goes on showing what was typed until it is mended or
 * put back with Escape.
 */
export function NameField({
  label,
  value,
  onValue,
  style,
  rows,
}: {
  label: string;
  value: string;
  onValue(value: string): string | null;
  style?: React.CSSProperties;
  /** For text of several lines, how many are seen. */
  rows?: number;
}) {
  const id = useId();
  const [text, setText] = useState<string | null>(null);
  const [wrong, setWrong] = useState<string | null>(null);
  const leave = () => {
    if (text === null) return;
    const refusal = text === value ? null : onValue(text);
    setWrong(refusal);
    if (!refusal) setText(null);
  };
  return (
    <Form.Group controlId={id} style={style}>
      <Form.Label>{label}</Form.Label>
      <Form.Control
        size="sm"
        {...(rows ? { as: 'textarea' as const, rows } : {})}
        className={rows ? 'font-monospace' : undefined}
        value={text ?? value}
        autoComplete="off"
        isInvalid={wrong !== null}
        aria-describedby={wrong ? `${id}-wrong` : undefined}
        onChange={(e) => setText(e.target.value)}
        onBlur={leave}
        onKeyDown={(e) => {
          if (e.key === 'Enter' && !rows) leave();
          if (e.key !== 'Escape') return;
          setText(null);
          setWrong(null);
        }}
      />
      {wrong && (
        <div className="wrong-text text-danger small" id={`${id}-wrong`} role="alert">
          {wrong}
        </div>
      )}
    </Form.Group>
  );
}
