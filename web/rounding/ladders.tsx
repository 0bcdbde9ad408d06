import { useMemo, useState } from 'react';
import { LADDER_FIELDS } from '#contract/records/ladder-fields.ts';
import { type LadderBody, ladderBody } from '#contract/recipes.ts';
import { dec, plain } from '#core/numbers/decimal.ts';
import { minorUnits } from '#core/numbers/currency.ts';
import { type Direction, applyLadder, prepareLadder, rungFaults, rungFor } from '#core/rounding/ladder.ts';
import { recordsApi } from '../records/endpoints.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { Button, Field, Input, Trouble } from '../kit/controls.tsx';
import { heldTo } from '../kit/held-to.ts';
import { CellSelect } from '../kit/select.tsx';
import { Figure } from '../kit/figure.tsx';
import { NumberInput } from '../kit/number-input.tsx';
import { show } from '../kit/number-form.ts';
import { MasterDetail } from '../kit/master-detail.tsx';
import { useSignedIn } from '../people/use-me.ts';
import { Conflict } from '../kit/conflict.tsx';
import { RowFaults, faultWords } from '../kit/faults.tsx';
import { InForce, WaitingChanges, useKeepWords } from '../to-come/in-force.tsx';
import { useLeaveGuard } from '../kit/leave-guard.tsx';
import { RecordHistory } from '../ledger/record-history.tsx';
import { FindingsBeside } from '../findings/findings-beside.tsx';
import { useRecordForm } from '../setup/use-record-form.ts';

type RungBody = LadderBody['rungs'][number];
const DIRECTION_OPTIONS = Object.entries(LADDER_FIELDS.rungs.fields.direction.options);
const faultsIn = heldTo(ladderBody);

const FRESH: LadderBody = {
  name: '',
  currency: 'EUR',
  byDefault: false,
  rungs: [
    {
      from: '0',
      to: null,
      step: '1',
      endings: ['0.95'],
      direction: 'nearest',
      downUntil: null,
      upFrom: null,
      offset: null,
    },
  ],
};

export function Ladders() {
  const me = useSignedIn();
  const { data: ladders = [], isLoading } = recordsApi.useLaddersQuery();
  return (
    <MasterDetail
      title="Ladders"
      about="Rounding by price band: each rung has its own step, endings and direction, on the price the buyer sees."
      one="ladder"
      to="/ladders"
      records={ladders}
      loading={isLoading}
      mayMake={me.rights.has('edit_rules')}
      none="A ladder says where prices end: .95 below ten, whole tens above a hundred. Make the first one."
      form={LadderForm}
      startOf={(record) => (record ? bodyOf(record) : FRESH)}
    />
  );
}

const bodyOf = ({ name, currency, byDefault = false, rungs }: LadderBody): LadderBody => ({
  name,
  currency,
  byDefault,
  rungs,
});

function LadderForm({
  id,
  version,
  start,
  editable,
  onKept,
}: {
  id: string | null;
  version: number;
  start: LadderBody;
  editable: boolean;
  onKept: (id: string) => void;
}) {
  const { body, set, save, saving, problem, fault, faults, theirs, goOn, changed, inForce } = useRecordForm<LadderBody>(
    'ladders',
    start,
    id,
    version,
    { faultsIn },
  );
  const change = (i: number, more: Partial<RungBody>) =>
    set({ rungs: body.rungs.map((r, n) => (n === i ? { ...r, ...more } : r)) });
  const { question, letGo } = useLeaveGuard(editable && changed, 'The ladder');
  const keepWords = useKeepWords(inForce, 'Keep the ladder');
  const keep = async () => {
    const done = await save();
    if (!done) return;
    letGo();
    onKept(done.id);
  };
  return (
    <form onSubmit={(e) => (e.preventDefault(), void keep())} className="max-w-5xl px-5 py-4">
      {question}
      {theirs ? (
        <Conflict message={problem!.message} theirs={theirs} mine={body} onGoOn={goOn} />
      ) : problem ? (
        <Trouble>
          {problem.message} {faultWords(faults)}
        </Trouble>
      ) : null}
      <WaitingChanges inForce={inForce} />
      <fieldset disabled={!editable}>
        <div className="flex gap-4">
          <Field label="Name" className="w-80" fault={fault('name')}>
            <Input name="name" required value={body.name} onChange={(e) => set({ name: e.target.value })} />
          </Field>
          <Field label="Currency" fault={fault('currency')}>
            <Input
              name="currency"
              required
              className="w-20"
              value={body.currency}
              onChange={(e) => set({ currency: e.target.value.toUpperCase() })}
            />
          </Field>
        </div>
        <label className="mt-3 flex items-center gap-2">
          <input
            type="checkbox"
            name="byDefault"
            checked={body.byDefault ?? false}
            onChange={(e) => set({ byDefault: e.target.checked })}
          />
          rounds every list in {body.currency} that has no ladder of its own
        </label>
        <table className="ruled mt-4">
          <thead>
            <tr>
              <th className="figure">from</th>
              <th className="figure">up to, not with it</th>
              <th className="figure">step</th>
              <th>endings inside the step</th>
              <th>direction</th>
              <th className="figure">down before</th>
              <th className="figure">up from</th>
              <th className="figure">then add</th>
              <th></th>
            </tr>
          </thead>
          <tbody>
            {body.rungs.map((r, i) => (
              <tr key={i} aria-label={`Rung ${i + 1}`}>
                <td>
                  <NumberInput
                    aria-label={`From, rung ${i + 1}`}
                    className="w-24"
                    value={r.from}
                    onValue={(from) => change(i, { from })}
                  />
                </td>
                <td>
                  <NumberInput
                    aria-label={`Up to, rung ${i + 1}`}
                    className="w-24"
                    placeholder="no end"
                    value={r.to ?? ''}
                    onValue={(to) => change(i, { to: to === '' ? null : to })}
                  />
                </td>
                <td>
                  <NumberInput
                    aria-label={`Step, rung ${i + 1}`}
                    className="w-20"
                    value={r.step}
                    onValue={(step) => change(i, { step })}
                  />
                </td>
                <td>
                  <Endings
                    value={r.endings}
                    label={`Endings, rung ${i + 1}`}
                    onValue={(endings) => change(i, { endings })}
                  />
                </td>
                <td>
                  <CellSelect
                    aria-label={`Direction, rung ${i + 1}`}
                    value={r.direction}
                    onValue={(chosen) => change(i, { direction: chosen as Direction })}
                    options={DIRECTION_OPTIONS}
                  />
                </td>
                {r.direction === 'cuts' ? (
                  <>
                    <td>
                      <NumberInput
                        aria-label={`Down before, rung ${i + 1}`}
                        className="w-20"
                        value={r.downUntil ?? ''}
                        onValue={(downUntil) => change(i, { downUntil })}
                      />
                    </td>
                    <td>
                      <NumberInput
                        aria-label={`Up from, rung ${i + 1}`}
                        className="w-20"
                        value={r.upFrom ?? ''}
                        onValue={(upFrom) => change(i, { upFrom })}
                      />
                    </td>
                  </>
                ) : (
                  <td colSpan={2} />
                )}
                <td>
                  <NumberInput
                    aria-label={`Then add, rung ${i + 1}`}
                    className="w-20"
                    value={r.offset ?? ''}
                    onValue={(offset) => change(i, { offset: offset === '' ? null : offset })}
                  />
                </td>
                <td>
                  <button
                    type="button"
                    aria-label={`Take rung ${i + 1} away`}
                    disabled={body.rungs.length === 1}
                    className="text-accent underline disabled:text-faint"
                    onClick={() => set({ rungs: body.rungs.filter((_, n) => n !== i) })}
                  >
                    ×
                  </button>
                  <RowFaults faults={faults} of={`rungs[${i}]`} />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        <Button
          className="mt-2"
          onClick={() =>
            set({ rungs: [...body.rungs, { ...FRESH.rungs[0]!, from: body.rungs[body.rungs.length - 1]?.to ?? '0' }] })
          }
        >
          Add a rung
        </Button>
      </fieldset>
      <FindingsBeside
        register="ladders"
        id={id}
        address={id && `/ladders/${id}`}
        body={body}
        changed={editable && changed}
        from={inForce}
      />
      {id ? <RecordHistory<LadderBody> register="ladders" id={id} onTake={editable ? set : null} /> : null}
      {editable ? <InForce inForce={inForce} fault={fault} /> : null}
      {editable ? (
        <div className="mt-4 border-t border-rule-strong pt-3">
          <Button type="submit" weight="main" disabled={saving || !changed}>
            {saving ? 'Keeping …' : keepWords}
          </Button>
        </div>
      ) : null}
      <Bench body={body} />
    </form>
  );
}

function Endings({
  value,
  label,
  onValue,
}: {
  value: readonly string[];
  label: string;
  onValue: (endings: string[]) => void;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  const form = useNumberForm();
  return (
    <Input
      aria-label={label}
      className="figure w-32"
      value={typed ?? value.map((v) => show(v, form)).join('; ')}
      title="several, parted by a semicolon"
      onChange={(e) => {
        setTyped(e.target.value);
        onValue(
          e.target.value
            .split(';')
            .map((t) => t.trim().replace(form === 'comma' ? ',' : '\u0000', '.'))
            .filter((t) => t !== ''),
        );
      }}
      onBlur={() => setTyped(null)}
    />
  );
}

/** Tries the ladder as it stands in the form, kept or not. */
function Bench({ body }: { body: LadderBody }) {
  const [typed, setTyped] = useState('0.62; 7.39; 7.40; 12.24; 99.60; 100; 249.01; 1012');
  const form = useNumberForm();
  const faults = useMemo(() => rungFaults(body.rungs), [body.rungs]);
  const prices = typed
    .split(/[;\s]+/)
    .map((t) => (form === 'comma' ? t.replace(',', '.') : t))
    .filter((t) => /^\d+(\.\d+)?$/.test(t));
  const ladder = faults.length === 0 ? prepareLadder(body.rungs, minorUnits(body.currency)) : null;
  return (
    <section className="mt-6">
      <h2 className="border-b border-rule-strong pb-1">Try it</h2>
      <Field label="Prices before rounding, parted by a semicolon">
        <Input className="figure" value={typed} onChange={(e) => setTyped(e.target.value)} />
      </Field>
      {!ladder ? (
        <p className="mt-2 text-stop">
          The ladder cannot be tried yet: rung {faults[0]!.row + 1}, {faults[0]!.field}.
        </p>
      ) : (
        <table className="ruled mt-2">
          <thead>
            <tr>
              <th className="figure">before</th>
              <th className="figure">after</th>
              <th className="figure">moves by</th>
              <th>rung</th>
            </tr>
          </thead>
          <tbody>
            {prices.map((p, i) => {
              const after = applyLadder(ladder, dec(p));
              const rung = rungFor(ladder, dec(p));
              const lands = rungFor(ladder, after);
              return (
                <tr key={i}>
                  <td className="figure">{show(p, form, 2)}</td>
                  <td className="figure">
                    <Figure value={plain(after)} places={2} final />
                  </td>
                  <td className="figure">
                    <Figure value={plain(after.minus(p))} places={2} signed />
                  </td>
                  <td className="text-faint">
                    {rung
                      ? `${show(plain(rung.from), form)} to ${rung.to ? show(plain(rung.to), form) : 'any'}`
                      : 'none: to the decimals'}
                    {rung && lands !== rung ? <span className="text-warn"> ▲ lands in another rung</span> : ''}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      )}
    </section>
  );
}
