// Days as they are written, such as 2026-06-30.

/** A day so many months after another, or before it. */
export function monthsAfter(day: string, months: number): string {
  const date = new Date(`${day}T00:00:00Z`);
  date.setUTCMonth(date.getUTCMonth() + months);
  return date.toISOString().slice(0, 10);
}
