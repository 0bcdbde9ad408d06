import { connections } from '#server/connections/tables.ts';
import { audit } from '#server/ledger/audit.ts';
import { atNoon, daysBefore } from './days.ts';
import type { Demo } from './demo.ts';

/** One supplier is connected, whose costs change every month; for another a seller has asked. */
export async function demoConnections({ tx, today, person, supplier }: Demo): Promise<void> {
  const at = atNoon(daysBefore(today, 2));
  const lusk = { address: 'stand-in/lusk', account: 'BR-2204', brands: [], everyHours: 24, state: 'on' as const };
  await tx.insert(connections).values({ supplierId: supplier['lusk']!, ...lusk, connectedBy: person['marit']! });
  const asked = {
    state: 'asked' as const,
    askedBy: person['liv']!,
    askedNote: 'the yards ask for this week’s paint prices',
  };
  await tx.insert(connections).values({ supplierId: supplier['norrvaag']!, ...asked });
  for (const [who, action, of] of [
    ['marit', 'connected', 'lusk'],
    ['liv', 'asked for a connection of', 'norrvaag'],
  ] as const)
    await audit(tx, {
      at,
      personId: person[who]!,
      action,
      subject: 'connections',
      subjectId: String(supplier[of]!),
    });
}
