/** The day asked about. */
export const DAY = { day: 'the day asked about, YYYY-MM-DD; without it: today' } as const;
