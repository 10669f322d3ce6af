'use client';

import { useEffect, useRef, useState } from 'react';

/** A word in a sentence that opens in place into a field; Escape or a click elsewhere closes it. */
export function Slot({ text, label, children }: { text: string; label: string; children(done: () => void): React.ReactNode }) {
  const [open, setOpen] = useState(false);
  const box = useRef<HTMLSpanElement>(null);
  const button = useRef<HTMLButtonElement>(null);
  const wasOpen = useRef(false);
  // What opens takes the focus in, and gives it back where it was opened.
  useEffect(() => {
    if (open) box.current?.querySelector<HTMLElement>('input, select, textarea, button')?.focus();
    else if (wasOpen.current && (document.activeElement === document.body || document.activeElement === null)) button.current?.focus();
    wasOpen.current = open;
  }, [open]);
  useEffect(() => {
    if (!open) return;
    const outside = (e: PointerEvent) => {
      if (!box.current?.contains(e.target as Node)) setOpen(false);
    };
    window.addEventListener('pointerdown', outside);
    return () => window.removeEventListener('pointerdown', outside);
  }, [open]);
  if (!open)
    return (
      <button ref={button} type="button" className="slot" aria-label={`${label}: ${text}`} onClick={() => setOpen(true)}>
        {text}
      </button>
    );
  return (
    <span className="slot-open" ref={box} onKeyDown={(e) => e.key === 'Escape' && setOpen(false)}>
      {children(() => setOpen(false))}
    </span>
  );
}
