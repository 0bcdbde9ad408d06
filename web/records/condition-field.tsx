import { FACTS, OPERATORS, type Condition, type Operator } from '#core/quotes/rules/rule.ts';
import type { PointedTo } from '#contract/records/declare.ts';
import { Input } from '../kit/controls.tsx';
import { Select } from '../kit/select.tsx';
import { ManyChooser, OneChooser } from './choosers.tsx';

const OPERATOR_WORDS: Record<Operator, string> = {
  is: 'is',
  is_not: 'is not',
  one_of: 'is one of',
  at_least: 'is at least',
  more_than: 'is more than',
  at_most: 'is at most',
  less_than: 'is less than',
  from_up_to: 'is from … up to, not with it',
  contains: 'contains',
  is_empty: 'is empty',
};

/** "item.brand" as "item: brand". */
const factWords = (fact: string) => fact.replace('.', ': ').replace('attributes.', '').replaceAll('_', ' ');

/** Facts whose values are records: they are chosen, not typed. */
const POINTS: Readonly<Record<string, PointedTo>> = {
  'item.category': 'categories',
  'item.supplier': 'suppliers',
  'customer.id': 'customers',
  'customer.group': 'groups',
  'quote.list': 'lists',
  'quote.region': 'regions',
};

const GROUPS = { all: 'all of these', any: 'any of these', none: 'none of these' } as const;
type Word = keyof typeof GROUPS;
const wordOf = (c: Condition): Word | null => (['all', 'any', 'none'] as const).find((w) => w in c) ?? null;
const insideOf = (c: Condition, word: Word): readonly Condition[] =>
  (c as unknown as Record<Word, readonly Condition[]>)[word];
const FRESH: Condition = { fact: 'item.category', operator: 'is', value: '' };

/** When a rule holds: one fact, or all, any or none of several; nested as deep as it needs to be. */
export function ConditionField({
  value,
  label,
  onValue,
}: {
  value: Condition | null;
  label: string;
  onValue: (value: Condition | null) => void;
}) {
  if (!value)
    return (
      <span className="flex gap-3">
        always{' '}
        <button type="button" className="text-accent underline" onClick={() => onValue(FRESH)}>
          only when …
        </button>
      </span>
    );
  return <One value={value} label={label} onValue={onValue} onDrop={() => onValue(null)} />;
}

function One({
  value,
  label,
  onValue,
  onDrop,
}: {
  value: Condition;
  label: string;
  onValue: (value: Condition) => void;
  onDrop: () => void;
}) {
  const word = wordOf(value);
  const drop = (
    <button
      type="button"
      aria-label={`Take this condition away, ${label}`}
      className="px-1 text-accent"
      onClick={onDrop}
    >
      ×
    </button>
  );
  if (word) {
    const inside = insideOf(value, word);
    const put = (next: readonly Condition[]) => onValue({ [word]: next } as unknown as Condition);
    return (
      <div className="border-l-2 border-rule-strong pl-3">
        <span className="flex items-center gap-2">
          <Select
            aria-label={`Which of them, ${label}`}
            value={word}
            onValue={(chosen) => onValue({ [chosen]: inside } as unknown as Condition)}
            options={(Object.keys(GROUPS) as Word[]).map((w) => [w, GROUPS[w]] as const)}
          />
          {drop}
        </span>
        {inside.map((c, i) => (
          <div key={i} className="mt-1">
            <One
              value={c}
              label={`${label}, ${i + 1}`}
              onValue={(next) => put(inside.with(i, next))}
              onDrop={() => (inside.length > 1 ? put(inside.filter((_, n) => n !== i)) : onDrop())}
            />
          </div>
        ))}
        <span className="mt-1 flex gap-3">
          <button type="button" className="text-accent underline" onClick={() => put([...inside, FRESH])}>
            add a fact
          </button>
          <button type="button" className="text-accent underline" onClick={() => put([...inside, { any: [FRESH] }])}>
            add a group
          </button>
        </span>
      </div>
    );
  }
  if (!('fact' in value)) return null;
  const set = (more: Partial<typeof value>) => onValue({ ...value, ...more });
  const points = POINTS[value.fact];
  const attribute = /^(item|customer|quote|line)\.attributes\.(.*)$/.exec(value.fact);
  return (
    <span className="flex flex-wrap items-center gap-1.5">
      <Select
        aria-label={`Fact, ${label}`}
        value={attribute ? `${attribute[1]}.attributes.` : value.fact}
        onValue={(chosen) => set({ fact: chosen })}
        options={[
          ...FACTS.map((f) => [f, factWords(f)] as const),
          ...['item', 'customer', 'quote', 'line'].map((of) => [`${of}.attributes.`, `${of}: an attribute …`] as const),
        ]}
      />
      {attribute ? (
        <Input
          aria-label={`Attribute, ${label}`}
          placeholder="colour"
          className="w-28"
          value={attribute[2]}
          onChange={(e) => set({ fact: `${attribute[1]}.attributes.${e.target.value}` })}
        />
      ) : null}
      <Select
        aria-label={`Comparison, ${label}`}
        value={value.operator}
        onValue={(chosen) => {
          const operator = chosen as Operator;
          onValue({
            fact: value.fact,
            operator,
            ...(operator === 'one_of'
              ? { values: value.value ? [value.value] : [] }
              : operator === 'from_up_to'
                ? { from: value.value ?? null, upTo: null }
                : operator === 'is_empty'
                  ? {}
                  : { value: value.value ?? '' }),
          });
        }}
        options={OPERATORS.map((o) => [o, OPERATOR_WORDS[o]] as const)}
      />
      {points && ['is', 'is_not'].includes(value.operator) ? (
        <OneChooser
          to={points}
          label={`Value, ${label}`}
          value={value.value || null}
          onValue={(id) => set({ value: id ?? '' })}
        />
      ) : points && value.operator === 'one_of' ? (
        <ManyChooser
          to={points}
          label={`Values, ${label}`}
          value={value.values ?? []}
          onValue={(values) => set({ values })}
        />
      ) : value.operator === 'one_of' ? (
        <Input
          aria-label={`Values, ${label}`}
          title="several, parted by a semicolon"
          className="w-56"
          defaultValue={(value.values ?? []).join('; ')}
          onChange={(e) =>
            set({
              values: e.target.value
                .split(';')
                .map((t) => t.trim())
                .filter((t) => t !== ''),
            })
          }
        />
      ) : value.operator === 'from_up_to' ? (
        (['from', 'upTo'] as const).map((end) => (
          <Input
            key={end}
            aria-label={`${end === 'from' ? 'From' : 'Up to'}, ${label}`}
            placeholder={end === 'from' ? 'from' : 'up to'}
            className="figure w-24"
            value={value[end] ?? ''}
            onChange={(e) => set({ [end]: e.target.value || null })}
          />
        ))
      ) : value.operator === 'is_empty' ? null : (
        <Input
          aria-label={`Value, ${label}`}
          className="w-40"
          value={value.value ?? ''}
          onChange={(e) => set({ value: e.target.value })}
        />
      )}
      {drop}
      <button
        type="button"
        className="text-accent underline"
        onClick={() => onValue({ all: [value, FRESH] })}
        title="Makes a group of this and another"
      >
        and …
      </button>
    </span>
  );
}
