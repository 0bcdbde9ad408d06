import { useMemo, useState } from 'react';
import { Link } from 'react-router';
import { type RecipeBody, recipeBody } from '#contract/recipes.ts';
import { GUARD_NAMES } from '#core/guards/guards.ts';
import { type AddOn, GUARD_KINDS, type GuardKind } from '#core/recipes/recipe.ts';
import { useRegister } from '../records/use-register.ts';
import { Button, Field, Input, Trouble } from '../kit/controls.tsx';
import { heldTo } from '../kit/held-to.ts';
import { Select } from '../kit/select.tsx';
import { NumberInput } from '../kit/number-input.tsx';
import { Conflict } from '../kit/conflict.tsx';
import { type Fault, RowFaults, faultWords } from '../kit/faults.tsx';
import { InForce, WaitingChanges, useKeepWords } from '../to-come/in-force.tsx';
import { useLeaveGuard } from '../kit/leave-guard.tsx';
import { RecordHistory } from '../ledger/record-history.tsx';
import { FindingsBeside } from '../findings/findings-beside.tsx';
import { useRecordForm } from '../setup/use-record-form.ts';
import { useSignedIn } from '../people/use-me.ts';
import { RECIPE_FIELDS } from '#contract/records/recipe-fields.ts';
import type { LadderTie } from '#core/rounding/ladder.ts';
import { RecordOne } from '../records/record-picker.tsx';
import { DeclaredField, DeclaredFields } from '../records/declared-field.tsx';
import { Part } from './part.tsx';
import { Trial } from './trial.tsx';
import { UpliftTable } from './uplift-table.tsx';

const faultsIn = heldTo(recipeBody);

/** One recipe, in the order in which it is carried out. */
export function RecipeForm({
  id,
  version,
  start,
  editable,
  onKept,
}: {
  id: string | null;
  version: number;
  start: RecipeBody;
  editable: boolean;
  onKept: (id: string) => void;
}) {
  const me = useSignedIn();
  const { body, set, save, saving, problem, fault, faults, theirs, goOn, changed, inForce } = useRecordForm<RecipeBody>(
    'recipes',
    start,
    id,
    version,
    { faultsIn },
  );
  const { rows: lists } = useRegister('lists');
  const [sample, setSample] = useState('48.00');
  // a list without a recipe is not priced by one that is new
  const priced = useMemo(() => lists.filter((l) => id !== null && l.recipe === id), [lists, id]);
  const users = priced.map((l) => l.name);
  // the lists it prices; one that prices none yet can be tried on any
  const triable = useMemo(() => {
    const all = lists.map((l) => ({ id: l.id, name: l.name, uses: l.recipe === id && id !== null }));
    return all.some((l) => l.uses) ? all.filter((l) => l.uses) : all;
  }, [lists, id]);
  // amounts that name no currency are in that of the list which is priced
  const used = new Set(priced.map((l) => l.currency));
  const currency = used.size === 1 ? [...used][0]! : me.workspace.currency;
  const { question, letGo } = useLeaveGuard(editable && changed, 'The recipe');
  const keepWords = useKeepWords(inForce, 'Keep the recipe');
  const keep = async () => {
    const done = await save();
    if (!done) return;
    letGo();
    onKept(done.id);
  };
  return (
    <form onSubmit={(e) => (e.preventDefault(), void keep())} className="max-w-6xl px-5 py-4">
      {question}
      {theirs ? (
        <Conflict message={problem!.message} theirs={theirs} mine={body} onGoOn={goOn} />
      ) : problem ? (
        <Trouble>
          {problem.message} {faultWords(faults)}
        </Trouble>
      ) : null}
      <WaitingChanges inForce={inForce} />
      <fieldset disabled={!editable} className="flex min-w-0 flex-col gap-5">
        <div className="flex items-end gap-4">
          <Field label="Name" fault={fault('name')} className="w-96">
            <Input name="name" value={body.name} onChange={(e) => set({ name: e.target.value })} required />
          </Field>
          <p className="pb-1 text-xs text-faint">
            {id ? `version ${version}` : 'new'}
            {users.length > 0 ? (
              <> · prices {users.join(', ')}</>
            ) : id ? (
              <>
                {' '}
                · used by no list yet (
                <Link className="text-accent underline" to="/setup/lists">
                  Setup, Price lists
                </Link>
                )
              </>
            ) : null}
          </p>
        </div>
        <Part number={1} title="Basis">
          <DeclaredFields
            fields={RECIPE_FIELDS.basis.fields}
            row={body.basis as unknown as Record<string, unknown>}
            path="basis"
            within=""
            faults={faults}
            onRow={(basis) => set({ basis: basis as unknown as RecipeBody['basis'] })}
          />
        </Part>
        <Part
          number={2}
          title="Uplift"
          aside={
            <label className="flex items-center gap-2 text-xs text-faint">
              worked on a sample of{' '}
              <NumberInput aria-label="Sample" value={sample} onValue={setSample} className="w-24" /> {currency}
            </label>
          }
        >
          <div className="overflow-x-auto">
            <UpliftTable
              rows={body.uplift}
              onRows={(uplift) => set({ uplift })}
              sample={sample}
              currency={currency}
              basis={body.basis.kind === 'landed' || body.basis.kind === 'cost' ? 'cost' : 'price'}
              faults={faults}
            />
          </div>
        </Part>
        <Part number={3} title="Add-ons">
          <DeclaredField
            field={{ ...RECIPE_FIELDS.addOns, title: 'before or after the uplift' }}
            path="addOns"
            value={body.addOns ?? []}
            onValue={(v) => set({ addOns: v as AddOn[] })}
            faults={faults}
          />
        </Part>
        <Part number={4} title="Deposit and tax">
          <p className="text-faint">
            A deposit is passed through at its amount. On a list with tax in, tax comes on by the item’s class.
          </p>
        </Part>
        <Part number={5} title="Ladder">
          <div className="flex items-center gap-4">
            <RecordOne
              register="ladders"
              label="Ladder"
              none="none: only to the list’s decimals"
              value={body.ladder}
              onValue={(ladder) => set({ ladder })}
              className="w-72"
            />
            {body.ladder ? (
              <Link to={`/ladders/${body.ladder}`} className="text-accent underline">
                open the ladder
              </Link>
            ) : null}
          </div>
          <div className="mt-2">
            <DeclaredField
              field={RECIPE_FIELDS.ladders}
              path="ladders"
              value={body.ladders ?? []}
              onValue={(v) => set({ ladders: v as LadderTie[] })}
              faults={faults}
            />
          </div>
        </Part>
        <Part number={6} title="Guards">
          <Guards body={body} set={set} faults={faults} />
        </Part>
      </fieldset>
      <FindingsBeside
        register="recipes"
        id={id}
        address={id && `/recipes/${id}`}
        body={body}
        changed={editable && changed}
        from={inForce}
      />
      {id ? <RecordHistory<RecipeBody> register="recipes" id={id} onTake={editable ? set : null} /> : null}
      <Trial lists={triable} kept={id === null ? null : start} body={body} />
      {editable ? <InForce inForce={inForce} fault={fault} /> : null}
      {editable ? (
        <div className="mt-6 flex items-center gap-3 border-t border-rule-strong pt-3">
          <Button type="submit" weight="main" disabled={saving || !changed}>
            {saving ? 'Keeping …' : keepWords}
          </Button>
          <span className="text-xs text-faint">
            {changed
              ? `Changed. No posted price changes by keeping it${users.length > 0 ? `: ${users.join(', ')} will show what it computes beside what is posted` : ''}.`
              : ''}
          </span>
        </div>
      ) : null}
    </form>
  );
}

function Guards({
  body,
  set,
  faults,
}: {
  body: RecipeBody;
  set: (change: Partial<RecipeBody>) => void;
  faults: readonly Fault[] | undefined;
}) {
  const { guards } = body;
  const me = useSignedIn();
  const currencyOf = (g: RecipeBody['guards'][number]) => g.amount?.currency ?? me.workspace.currency;
  const change = (i: number, more: Partial<RecipeBody['guards'][number]>) =>
    set({ guards: guards.map((g, n) => (n === i ? { ...g, ...more } : g)) });
  const unused = GUARD_KINDS.filter((k) => !guards.some((g) => g.kind === k));
  return (
    <div className="flex flex-col gap-2">
      {guards.map((g, i) => (
        <div key={g.kind} className="flex flex-wrap items-center gap-3">
          <span className="w-52">{GUARD_NAMES[g.kind]}</span>
          {/margin|markup/.test(g.kind) ? (
            <>
              <NumberInput
                aria-label={`${GUARD_NAMES[g.kind]}, per cent`}
                value={g.percent ?? ''}
                onValue={(percent) => change(i, { percent })}
                className="w-20"
              />{' '}
              %
            </>
          ) : null}
          {/_price$/.test(g.kind) ? (
            <>
              <NumberInput
                aria-label={`${GUARD_NAMES[g.kind]}, amount`}
                value={g.amount?.amount ?? ''}
                onValue={(amount) => change(i, { amount: { amount, currency: currencyOf(g) } })}
                className="w-24"
              />{' '}
              {currencyOf(g)}
            </>
          ) : null}
          {g.kind === 'raise_only' ? (
            <label className="flex items-center gap-1.5">
              <input
                type="checkbox"
                checked={!body.quietFalls}
                onChange={(e) => set({ quietFalls: !e.target.checked })}
              />
              what would fall waits under Falls
            </label>
          ) : null}
          <button
            type="button"
            className="text-accent underline"
            onClick={() => set({ guards: guards.filter((_, n) => n !== i) })}
          >
            take away
          </button>
          <RowFaults faults={faults} of={`guards[${i}]`} />
        </div>
      ))}
      {unused.length > 0 ? (
        <Select
          aria-label="Add a guard"
          value=""
          onValue={(chosen) =>
            chosen &&
            set({
              guards: [...guards, { kind: chosen as GuardKind, percent: null, amount: null }],
            })
          }
          options={[['', 'add a guard …'], ...unused.map((k) => [k, GUARD_NAMES[k]] as const)]}
          className="w-52"
        />
      ) : null}
    </div>
  );
}
