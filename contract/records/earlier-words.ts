type Row = Readonly<Record<string, unknown>>;

/** Fields that go by another name since: of each kind, what they were called and what they are called now. */
const RENAMED: Readonly<Record<string, Readonly<Record<string, string>>>> = {
  categories: { parentId: 'parent' },
  floors: { itemId: 'item', categoryId: 'category', groupId: 'group' },
  'tax-rates': { validFrom: 'from' },
  'exchange-rates': { fromCurrency: 'from', toCurrency: 'to' },
  lists: { validFrom: 'from', validTo: 'to' },
};

const without = (row: Row, fields: readonly string[]): Record<string, unknown> =>
  Object.fromEntries(Object.entries(row).filter(([field]) => !fields.includes(field)));
const amount = (figure: unknown, currency: unknown, own: unknown) =>
  figure === null || figure === undefined ? null : { amount: figure, currency: currency ?? own };

const TERMS = ['freightPer', 'freightAmount', 'freightCurrency', 'dutyPercent', 'handlingAmount', 'handlingCurrency'];

function supplier(was: Row): Record<string, unknown> {
  const freight = was['freightPer'] && amount(was['freightAmount'], was['freightCurrency'], was['currency']);
  const landed = {
    freight: freight ? { per: was['freightPer'], amount: freight } : null,
    dutyPercent: was['dutyPercent'] ?? null,
    handling: amount(was['handlingAmount'], was['handlingCurrency'], was['currency']),
    overheadPercent: was['overheadPercent'] ?? null,
    orderFee: was['orderFee'] ?? null,
    usualOrder: was['usualOrder'] ?? null,
  };
  return { ...without(was, [...TERMS, 'overheadPercent', 'orderFee', 'usualOrder']), landed };
}

function customer(was: Row): Record<string, unknown> {
  const others = (was['otherGroups'] as string[] | undefined) ?? [];
  return {
    ...without(was, ['groupId', 'otherGroups']),
    groups: [was['groupId'] as string | null, ...others].flatMap((g) => g ?? []),
  };
}

const ROW = ['item', 'model', 'attributes', 'brand', 'supplier', 'category', 'pack', 'lockstep', 'channel'];

function upliftRow(was: Row, at: number): Row {
  const ties = Object.fromEntries(ROW.map((tie) => [tie, was[tie]]).filter(([, v]) => v !== null && v !== undefined));
  const [from, to] = [was['bandFrom'] ?? null, was['bandTo'] ?? null];
  const band = from === null && to === null ? {} : { band: { from: from ?? '0', to } };
  const { method, value, currency = null } = was;
  return { id: String(at + 1), scope: { ...ties, ...band }, method, value, currency };
}

function recipe(was: Row): Record<string, unknown> {
  return {
    ...without(was, ['basisList', 'costSide']),
    basis: { kind: was['basis'], list: was['basisList'] ?? null, cost: was['costSide'] ?? 'paid' },
    uplift: (was['uplift'] as Row[]).map(upliftRow),
    guards: (was['guards'] as Row[]).map((g) => ({
      kind: g['kind'],
      percent: g['percent'] ?? null,
      amount: amount(g['currency'] ? g['amount'] : null, g['currency'], null),
    })),
  };
}

function item(was: Row): Record<string, unknown> {
  const limits = was['orderLimits'] as Row | null;
  const buyers = (was['orderFor'] as Row[] | undefined) ?? [];
  return {
    ...without(was, ['orderLimits', 'orderFor']),
    order: limits || buyers.length > 0 ? { least: null, most: null, step: null, ...limits, for: buyers } : null,
  };
}

const MADE_ANEW: Readonly<
  Record<string, { readonly known: (row: Row) => boolean; readonly now: (row: Row) => object }>
> = {
  suppliers: { known: (row) => 'freightPer' in row, now: supplier },
  customers: { known: (row) => 'groupId' in row, now: customer },
  recipes: { known: (row) => typeof row['basis'] === 'string', now: recipe },
  items: { known: (row) => 'orderLimits' in row, now: item },
};

/** A whole record as it was written down in the record of changes, in the words of now, so that it can be kept again. */
export function inWordsOfNow(kind: string, row: object): object {
  const made = MADE_ANEW[kind];
  if (made?.known(row as Row)) return made.now(row as Row);
  const renamed = RENAMED[kind];
  if (!renamed) return row;
  return Object.fromEntries(Object.entries(row).map(([field, value]) => [renamed[field] ?? field, value as unknown]));
}
