import fc from 'fast-check';
import { expect, it } from 'vitest';
import { pack, unpack } from './packed.ts';

const column = fc.oneof(
  fc.float64Array({ maxLength: 9 }),
  fc.int32Array({ maxLength: 9 }),
  fc.uint8Array({ maxLength: 9 }),
  fc.uint16Array({ maxLength: 9 }),
);
const plain = fc.oneof(
  fc.string(),
  fc.double(),
  fc.boolean(),
  fc.constant(null),
  fc.constantFrom(NaN, Infinity, -Infinity),
);
/** JSON knows no negative zero, and no figure here is one. */
const whole = (value: unknown): unknown =>
  JSON.parse(JSON.stringify(value, (_, v: unknown) => (typeof v === 'number' ? String(v + 0) : v)));

it('columns and figures arrive as they were sent, also the ones that are no number', () => {
  fc.assert(
    fc.property(
      fc.record({
        a: column,
        b: fc.array(column, { maxLength: 3 }),
        c: plain,
        d: fc.record({ e: column, f: fc.array(plain) }),
      }),
      (value) => {
        const bytes = pack(value);
        const back = unpack<typeof value>(bytes.buffer as ArrayBuffer);
        expect([back.a, back.b, back.d.e]).toEqual([value.a, value.b, value.d.e]);
        expect(back.a.constructor).toBe(value.a.constructor);
        expect(whole([back.c, back.d.f])).toEqual(whole([value.c, value.d.f]));
      },
    ),
  );
});
