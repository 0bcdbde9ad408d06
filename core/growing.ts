type Column = Uint32Array | Float64Array;

/** A column of numbers that grows. Outside of the heap: what it has outgrown is given back soon. */
export class Growing<A extends Column> {
  private values: A;
  length = 0;

  /** `rows`: how many are expected. */
  constructor(
    private readonly kind: new (rows: number) => A,
    rows = 1024,
  ) {
    this.values = new kind(Math.max(rows, 16));
  }

  push(value: number): void {
    if (this.length === this.values.length) {
      const wider = new this.kind(2 * this.length);
      wider.set(this.values);
      this.values = wider;
    }
    this.values[this.length++] = value;
  }

  get(i: number): number {
    return this.values[i]!;
  }

  /** What was put in so far, not copied. */
  get all(): A {
    return this.values.subarray(0, this.length) as A;
  }
}
