'use client';

import { useRef, type ComponentProps, type Ref } from 'react';
import { Button } from './Button';

interface FileInputProps {
  ref?: Ref<HTMLInputElement>;
  accept: string;
  /** What the file is, for those who do not see the button. */
  label: string;
  multiple?: boolean;
  onFiles(files: File[]): void;
}

/** A hidden file input, clicked by something else. The same file may be chosen twice in turn. */
export function FileInput({ ref, accept, label, multiple, onFiles }: FileInputProps) {
  return (
    <input
      ref={ref}
      type="file"
      accept={accept}
      multiple={multiple}
      hidden
      aria-label={label}
      onChange={(e) => {
        const chosen = [...(e.target.files ?? [])];
        e.target.value = '';
        if (chosen.length) onFiles(chosen);
      }}
    />
  );
}

/** A button that asks for a file, or several. */
export function FileButton({
  accept,
  label,
  multiple,
  onFiles,
  ...button
}: Omit<FileInputProps, 'ref'> & Omit<ComponentProps<typeof Button>, 'onClick' | 'as'>) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <Button {...button} onClick={() => input.current?.click()} />
      <FileInput ref={input} accept={accept} label={label} multiple={multiple} onFiles={onFiles} />
    </>
  );
}
