import { useState } from 'react';
import { BeforeAfter } from './before-after.tsx';
import { Button, Trouble } from './controls.tsx';
import { pathWords } from './faults.tsx';

type Facts = Readonly<Record<string, unknown>>;

const same = (a: unknown, b: unknown) => JSON.stringify(a ?? null) === JSON.stringify(b ?? null);

/** Facts inside a field are named by it; one that is a fact itself needs no name twice. */
const inPlace = (field: string, value: unknown) =>
  typeof value === 'object' && value !== null ? { [pathWords(field)]: value } : value;

/** Two people changed the same thing: both versions field by field, a choice for each, and one way to go on. */
export function Conflict({
  message,
  theirs,
  mine,
  titles = {},
  shown = (_, value) => value,
  onGoOn,
}: {
  message: string;
  theirs: object;
  mine: object;
  /** What fields are called, where that is not their own name. */
  titles?: Readonly<Record<string, string>>;
  /** A field as a person compares it. */
  shown?: (field: string, value: unknown) => unknown;
  /** The fields taken from the other version. */
  onGoOn: (fromTheirs: readonly string[]) => void;
}) {
  const [their, own] = [theirs as Facts, mine as Facts];
  const fields = Object.keys(own).filter((k) => k !== 'id' && k !== 'version' && !same(their[k], own[k]));
  const [taken, setTaken] = useState<ReadonlySet<string>>(new Set());
  const choose = (field: string, fromTheirs: boolean) => {
    const next = new Set(taken);
    if (fromTheirs) next.add(field);
    else next.delete(field);
    setTaken(next);
  };
  return (
    <div className="my-2">
      <Trouble tone="warn">
        <p>{message}</p>
        {fields.length === 0 ? <p>Both say the same: go on.</p> : null}
        {fields.map((f) => {
          const title = titles[f] ?? pathWords(f);
          return (
            <fieldset key={f} className="mt-2 border-t border-rule pt-1 text-ink">
              <legend className="sr-only">{title}</legend>
              <div className="flex flex-wrap items-baseline gap-x-5">
                <b className="min-w-28">{title}</b>
                {(['mine', 'theirs'] as const).map((whose) => (
                  <label key={whose} className="flex items-center gap-1.5">
                    <input
                      type="radio"
                      name={`conflict-${f}`}
                      checked={taken.has(f) === (whose === 'theirs')}
                      onChange={() => choose(f, whose === 'theirs')}
                    />
                    {whose === 'mine' ? 'keep mine' : 'take theirs'}
                  </label>
                ))}
              </div>
              <BeforeAfter
                before={inPlace(f, shown(f, their[f]))}
                after={inPlace(f, shown(f, own[f]))}
                titles={['in store', 'yours']}
              />
            </fieldset>
          );
        })}
        <div className="mt-2 flex gap-2">
          <Button onClick={() => onGoOn(fields)}>Take theirs throughout</Button>
          <Button weight="main" onClick={() => onGoOn(fields.filter((f) => taken.has(f)))}>
            Go on {taken.size === 0 ? 'with mine' : 'with this choice'}
          </Button>
        </div>
      </Trouble>
    </div>
  );
}

/** My version with the chosen fields of theirs. */
export function merged<B extends object>(mine: B, theirs: B, fromTheirs: readonly string[]): B {
  return { ...mine, ...Object.fromEntries(fromTheirs.map((f) => [f, (theirs as Facts)[f]])) };
}
