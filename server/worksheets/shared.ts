/** A copy whose typed arrays lie in memory that worker threads share, so that sending it copies nothing. */
export function shared<T>(value: T): T {
  if (ArrayBuffer.isView(value)) {
    const from = value as unknown as Float64Array;
    const memory = new SharedArrayBuffer(from.byteLength);
    const made = new (from.constructor as Float64ArrayConstructor)(memory);
    made.set(from);
    return made as unknown as T;
  }
  if (Array.isArray(value)) return value.map(shared) as unknown as T;
  if (value === null || typeof value !== 'object') return value;
  return Object.fromEntries(Object.entries(value).map(([k, v]) => [k, shared(v as unknown)])) as T;
}
