/** A small repeatable generator (mulberry32): the same seed gives the same demo on every machine. Never used for money but to make it up. */
export class Dice {
  constructor(private state: number) {}

  /** From 0 inclusive to 1 exclusive. */
  next(): number {
    this.state = (this.state + 0x6d2b79f5) | 0;
    let t = Math.imul(this.state ^ (this.state >>> 15), 1 | this.state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  }

  whole(from: number, to: number): number {
    return from + Math.floor(this.next() * (to - from + 1));
  }

  pick<T>(from: readonly T[]): T {
    return from[Math.floor(this.next() * from.length)]!;
  }
}
