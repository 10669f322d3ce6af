/** The day where the machine stands, as 2026-03-31: by its own clock, not by Greenwich. */
export function toLocalDay(date: Date): string {
  const two = (v: number): string => String(v).padStart(2, '0');
  return `${String(date.getFullYear()).padStart(4, '0')}-${two(date.getMonth() + 1)}-${two(date.getDate())}`;
}
