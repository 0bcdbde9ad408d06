export interface TreeRow {
  readonly id: string;
  readonly name: string;
  readonly parent: string | null;
}

interface Laid<R> {
  readonly row: R;
  /** From 1. */
  readonly level: number;
  readonly children: number;
  readonly open: boolean;
}

/** Rows as a tree is read from top to bottom, each level by name; below a closed one nothing is shown. */
export function laidOut<R extends TreeRow>(rows: readonly R[], closed: ReadonlySet<string>): Laid<R>[] {
  const below = new Map<string | null, R[]>();
  const known = new Set(rows.map((r) => r.id));
  for (const r of rows) {
    const parent = r.parent !== null && known.has(r.parent) ? r.parent : null;
    below.set(parent, [...(below.get(parent) ?? []), r]);
  }
  const out: Laid<R>[] = [];
  const walk = (parent: string | null, level: number) => {
    for (const row of (below.get(parent) ?? []).sort((a, b) => a.name.localeCompare(b.name))) {
      const children = below.get(row.id)?.length ?? 0;
      const open = children > 0 && !closed.has(row.id);
      out.push({ row, level, children, open });
      if (open) walk(row.id, level + 1);
    }
  };
  walk(null, 1);
  return out;
}

/** A row with everything below it. */
export function branchOf(rows: readonly TreeRow[], id: string): ReadonlySet<string> {
  const branch = new Set([id]);
  for (let before = 0; before < branch.size;) {
    before = branch.size;
    for (const r of rows) if (r.parent !== null && branch.has(r.parent)) branch.add(r.id);
  }
  return branch;
}

/** How many items lie in a row of the tree, and how many with everything below it. */
export interface ItemsIn {
  readonly own: number;
  readonly all: number;
}

export function itemsIn(rows: readonly TreeRow[], own: ReadonlyMap<string, number>): ReadonlyMap<string, ItemsIn> {
  const all = new Map(rows.map((r) => [r.id, own.get(r.id) ?? 0]));
  const parents = new Map(rows.map((r) => [r.id, r.parent]));
  for (const { id } of rows) {
    const seen = new Set([id]);
    for (let up = parents.get(id); up && !seen.has(up); up = parents.get(up)) {
      seen.add(up);
      if (all.has(up)) all.set(up, all.get(up)! + (own.get(id) ?? 0));
    }
  }
  return new Map(rows.map((r) => [r.id, { own: own.get(r.id) ?? 0, all: all.get(r.id)! }]));
}
