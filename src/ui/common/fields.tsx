'use client';

import { useId, useState } from 'react';
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

/** A line of text, or several, with its label. What is refused stays in the field, with the reason under it, until it is left. */
export function TextField({
  label,
  value,
  onValue,
  wide,
  maxLength,
  rows,
}: {
  label: string;
  value: string;
  /** Takes the text; an answer in words is why it cannot. */
  onValue(value: string): string | null;
  wide?: boolean;
  maxLength?: number;
  /** Lines shown, where it may have several. */
  rows?: number;
}) {
  const id = useId();
  const [text, setText] = useState<string | null>(null);
  const [wrong, setWrong] = useState<string | null>(null);
  const [seen, setSeen] = useState(value);
  const [typing, setTyping] = useState(false);
  // A value that typing did not make comes from elsewhere, and is shown.
  if (seen !== value) {
    setSeen(value);
    setTyping(false);
    if (!typing) setText(null);
    if (!typing) setWrong(null);
  }
  const take = (own: string) => {
    const refusal = onValue(own);
    setText(own);
    setWrong(refusal);
    setTyping(refusal === null);
  };
  const leave = () => {
    setText(null);
    setWrong(null);
    setTyping(false);
  };
  return (
    <Form.Group controlId={id} className={wide ? 'wide' : undefined}>
      <Form.Label>{label}</Form.Label>
      <Form.Control
        size="sm"
        {...(rows ? { as: 'textarea' as const, rows } : {})}
        value={text ?? value}
        maxLength={maxLength}
        spellCheck={false}
        autoComplete="off"
        isInvalid={wrong !== null}
        aria-describedby={wrong ? `${id}-wrong` : undefined}
        onChange={(e) => take(e.target.value)}
        onBlur={leave}
      />
      {wrong && (
        <div className="wrong-text text-danger small" id={`${id}-wrong`} role="alert">
          {wrong}
        </div>
      )}
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
