/** Columns by their name on the wire. */
const KINDS = { Float64Array, Int32Array, Uint16Array, Uint8Array } as const;
type Kind = keyof typeof KINDS;
type Column = InstanceType<(typeof KINDS)[Kind]>;

const isColumn = (value: unknown): value is Column => ArrayBuffer.isView(value) && value.constructor.name in KINDS;

/** Every column begins where doubles may begin. */
const aligned = (bytes: number): number => Math.ceil(bytes / 8) * 8;

/**
 * Plain data with columns of numbers in it, as bytes: the length of a text, the text as JSON with places for the
 * columns, then the columns as they lie in memory (little-endian).
 */
export function pack(value: unknown): Uint8Array {
  const columns: Column[] = [];
  const text = new TextEncoder().encode(
    JSON.stringify(value, (_, part: unknown) => {
      if (isColumn(part)) return { column: part.constructor.name, length: part.length, at: columns.push(part) - 1 };
      if (typeof part === 'number' && !Number.isFinite(part)) return { number: String(part) };
      return part;
    }),
  );
  const head = aligned(4 + text.length);
  const size = columns.reduce((sum, c) => sum + aligned(c.byteLength), head);
  const out = new Uint8Array(size);
  new DataView(out.buffer).setUint32(0, text.length, true);
  out.set(text, 4);
  let at = head;
  for (const c of columns) {
    out.set(new Uint8Array(c.buffer, c.byteOffset, c.byteLength), at);
    at += aligned(c.byteLength);
  }
  return out;
}

interface Place {
  column?: Kind;
  length: number;
  number?: string;
}

/** What was packed; the columns lie in the bytes themselves. `T` is what the sender packed. */
export function unpack<T>(bytes: ArrayBuffer): T {
  const length = new DataView(bytes).getUint32(0, true);
  const value: unknown = JSON.parse(new TextDecoder().decode(new Uint8Array(bytes, 4, length)));
  const places: { holder: Record<string, unknown>; key: string; place: Required<Place> & { at: number } }[] = [];
  const find = (holder: unknown): void => {
    if (holder === null || typeof holder !== 'object') return;
    for (const [key, part] of Object.entries(holder as Record<string, unknown>)) {
      const place = part as Place | null;
      if (place?.column !== undefined) places.push({ holder: holder as never, key, place: place as never });
      else if (place?.number !== undefined) (holder as Record<string, unknown>)[key] = Number(place.number);
      else find(part);
    }
  };
  const root = { value };
  find(root);
  let at = aligned(4 + length);
  for (const { holder, key, place } of places.sort((a, b) => a.place.at - b.place.at)) {
    const made = new KINDS[place.column](bytes, at, place.length);
    holder[key] = made;
    at += aligned(made.byteLength);
  }
  return root.value as T;
}
