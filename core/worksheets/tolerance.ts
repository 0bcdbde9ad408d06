/** Per cent of the posted price that a price may move by itself; absent: any. */
export interface Tolerance {
  readonly up?: string | null;
  readonly down?: string | null;
}
