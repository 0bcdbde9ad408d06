export interface CustomerGroup {
  readonly id: string;
  readonly version: number;
  readonly name: string;
  /** Of several groups of one customer the lower rank comes first. */
  readonly rank: number;
}

export interface Customer {
  readonly id: string;
  readonly name: string;
  readonly groups: readonly string[];
  /** ISO 3166-1 alpha-2. */
  readonly country?: string | null;
  readonly attributes?: Readonly<Record<string, string>>;
}
