/** A line of a program as it is sent: its number and its text, without what would end it. */
export const toNumberedLine = (n: number, text: string): string => `line ${n} ${text.replace(/[\r\n]/g, ' ')}`;

/** Parts a stream of text into its lines: what comes last may still go on. @returns Whole lines of all that was put in so far. */
export function createLineCutter(): (chunk: string) => string[] {
  let rest = '';
  return (chunk) => {
    const lines = (rest + chunk).split('\n');
    rest = lines.pop()!;
    return lines.map((l) => l.trimEnd()).filter((l) => l !== '');
  };
}

/** Lines of a program as they are fed: empty ones are left out, with the line each has in its file, from 0. */
export function listFedLines(text: string): { lines: string[]; at: number[] } {
  const lines: string[] = [],
    at: number[] = [];
  text.split('\n').forEach((line, k) => {
    if (line.trim() === '') return;
    lines.push(line);
    at.push(k);
  });
  return { lines, at };
}
