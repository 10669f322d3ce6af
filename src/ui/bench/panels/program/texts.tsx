'use client';

import { useEffect, useMemo, useRef } from 'react';
import CodeMirror, { type ReactCodeMirrorRef } from '@uiw/react-codemirror';
import { foldAll, foldService, unfoldAll } from '@codemirror/language';
import { unifiedMergeView } from '@codemirror/merge';
import { openSearchPanel } from '@codemirror/search';
import { StateEffect, StateField, type Extension } from '@codemirror/state';
import { Decoration, EditorView, lineNumbers } from '@codemirror/view';
import { Button } from '../../../common/Button';

export interface ProgramTextProps {
  text: string;
  /** The line that is marked and in sight, from 0; null for none. */
  line: number | null;
  /** Lines that stand before it. */
  first?: number;
}

const setCurrentLine = StateEffect.define<number>();
const currentLine = StateField.define({
  create: () => Decoration.none,
  update(marks, tr) {
    for (const effect of tr.effects) {
      if (effect.is(setCurrentLine)) {
        const line = tr.state.doc.line(Math.min(tr.state.doc.lines, effect.value + 1));
        return Decoration.set([Decoration.line({ class: 'cm-current-block' }).range(line.from)]);
      }
    }
    return tr.docChanged ? Decoration.none : marks;
  },
  provide: (field) => EditorView.decorations.from(field),
});

/** A line with which a cut begins, as the writer says it where the control lets words for people pass. */
const CUT_LINE = /^\(cut \d+: /;

/** Cuts fold into their first lines. O(lines of the cut). */
const foldCuts = foldService.of((state, start) => {
  const first = state.doc.lineAt(start);
  if (!CUT_LINE.test(first.text)) return null;
  let last = first.number;
  while (last < state.doc.lines && !CUT_LINE.test(state.doc.line(last + 1).text)) last++;
  return last > first.number ? { from: first.to, to: state.doc.line(last).to } : null;
});

/** A text with one line marked and in sight. */
export function ProgramText({ text, line, first = 0 }: ProgramTextProps) {
  const editor = useRef<ReactCodeMirrorRef>(null);
  const extensions = useMemo<Extension[]>(
    // Not to be typed in, and still reached and read by keys.
    () => [
      currentLine,
      foldCuts,
      lineNumbers({ formatNumber: (n) => String(n + first) }),
      EditorView.editable.of(false),
      EditorView.contentAttributes.of({ tabindex: '0', 'aria-label': 'Program text' }),
    ],
    [first],
  );
  useEffect(() => {
    const view = editor.current?.view;
    if (!view || line === null || line < 0 || line >= view.state.doc.lines) return;
    const { from } = view.state.doc.line(line + 1);
    view.dispatch({ effects: setCurrentLine.of(line) });
    // Not the editor's own scrolling, which would scroll the whole inspector away from under the hand as well.
    const { top, height } = view.lineBlockAt(from);
    view.scrollDOM.scrollTop = top + height / 2 - view.scrollDOM.clientHeight / 2;
  }, [line, text]);
  const run = (act: (view: EditorView) => void) => editor.current?.view && act(editor.current.view);
  return (
    <>
      <p className="d-flex gap-3 mb-1">
        <Button size="sm" variant="link" className="p-0" onClick={() => run(openSearchPanel)}>
          Search
        </Button>
        <Button size="sm" variant="link" className="p-0" onClick={() => run(foldAll)}>
          Fold the cuts
        </Button>
        <Button size="sm" variant="link" className="p-0" onClick={() => run(unfoldAll)}>
          Unfold
        </Button>
      </p>
      <div className="program-text" data-testid="program-text">
        <CodeMirror
          ref={editor}
          value={text}
          height="100%"
          extensions={extensions}
          readOnly
          basicSetup={{ lineNumbers: false, foldGutter: true, highlightActiveLine: false, highlightActiveLineGutter: false }}
        />
      </div>
    </>
  );
}

/** A text with what is other in it than in another, line by line. */
export function TextDifference({ before, now }: { before: string; now: string }) {
  const extensions = useMemo(
    () => [
      EditorView.editable.of(false),
      unifiedMergeView({ original: before, mergeControls: false, collapseUnchanged: { margin: 2, minSize: 6 }, gutter: true }),
    ],
    [before],
  );
  return (
    <div className="program-text" data-testid="difference">
      <CodeMirror
        value={now}
        height="100%"
        readOnly
        extensions={extensions}
        basicSetup={{ foldGutter: false, highlightActiveLine: false, highlightActiveLineGutter: false }}
      />
    </div>
  );
}
