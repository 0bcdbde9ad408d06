/** The day so many days before another. */
export function daysBefore(day: string, days: number): string {
  return new Date(Date.parse(`${day}T00:00:00Z`) - days * 86_400_000).toISOString().slice(0, 10);
}

/** A moment on a day at which things were done. */
export const atNoon = (day: string): Date => new Date(`${day}T10:00:00Z`);
