'use client';

import { useEffect, useId, useRef, useState } from 'react';
import Overlay from 'react-bootstrap/Overlay';
import Popover from 'react-bootstrap/Popover';

const FIELDS = 'input, select, textarea, button';

const takeFocus = (box: HTMLElement | null) => {
  if (box && !box.contains(document.activeElement)) box.querySelector<HTMLElement>(FIELDS)?.focus();
};

/** A word in a sentence that opens a field at its place; Escape or a click elsewhere closes it. */
export function Slot({ text, label, children }: { text: string; label: string; children(done: () => void): React.ReactNode }) {
  const [open, setOpen] = useState(false);
  const id = useId();
  const place = useRef<HTMLSpanElement>(null);
  const button = useRef<HTMLButtonElement>(null);
  const wasOpen = useRef(false);
  const close = () => setOpen(false);
  // The focus goes back to where it was opened, unless it has gone elsewhere.
  useEffect(() => {
    const focused = document.activeElement;
    if (!open && wasOpen.current && (!focused || focused === document.body)) button.current?.focus();
    wasOpen.current = open;
  }, [open]);
  return (
    <span ref={place} className="slot-place">
      <button
        ref={button}
        id={id}
        type="button"
        className="slot"
        aria-label={`${label}: ${text}`}
        aria-haspopup="dialog"
        aria-expanded={open}
        onClick={() => setOpen(!open)}
      >
        {text}
      </button>
      <Overlay show={open} target={button} container={place} placement="bottom" transition={false} rootClose onHide={close} flip>
        <Popover
          className="slot-open"
          role="dialog"
          aria-labelledby={id}
          onKeyDown={(e: React.KeyboardEvent) => e.key === 'Escape' && close()}
        >
          <Popover.Body ref={takeFocus}>{children(close)}</Popover.Body>
        </Popover>
      </Overlay>
    </span>
  );
}
