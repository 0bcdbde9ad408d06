import { flushSync } from 'react-dom';
import { BILL_LINE_KINDS, BILL_LINE_WORDS, type BillLine } from '#contract/bills.ts';
import { flagWords } from '#contract/cost-rows.ts';
import type { CostChange } from '#contract/costs.ts';
import type { NamedItem } from '#contract/items.ts';
import { minorUnits } from '#core/numbers/currency.ts';
import { lineTotal } from '#core/costs/bill-total.ts';
import { plain } from '#core/numbers/decimal.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { ItemPicker } from '../items/item-picker.tsx';
import { useNamedItems } from '../items/named-items.ts';
import { CellSelect } from '../kit/select.tsx';
import { Change, Figure } from '../kit/figure.tsx';
import { show } from '../kit/number-form.ts';
import { NumberInput } from '../kit/number-input.tsx';
import { writtenIn } from './written.ts';

const isNumber = (text: string) => /^\d+(\.\d+)?$/.test(text);
/** Nothing is missing in it, and every figure can be read. */
export const isWhole = (l: BillLine): boolean =>
  [l.quantity, l.packUnits, l.price].every(isNumber) && Number(l.quantity) > 0 && Number(l.packUnits) > 0;

/** The lines of a bill, each with what its cost would change; a scanned barcode adds its pack. */
export function BillLines({
  lines,
  saved,
  changes,
  currency,
  editable,
  onLines,
}: {
  lines: readonly BillLine[];
  /** As they are kept: what changes is known of those alone. */
  saved: readonly BillLine[];
  changes: readonly CostChange[];
  currency: string;
  editable: boolean;
  onLines: (lines: BillLine[]) => void;
}) {
  const form = useNumberForm();
  const byId = useNamedItems(lines.map((l) => l.item));
  const put = (n: number, more: Partial<BillLine>) => onLines(lines.map((l, i) => (i === n ? { ...l, ...more } : l)));
  const lineWords = (l: BillLine): string => {
    const total = isWhole(l) ? lineTotal(l) : null;
    return total ? show(plain(total), form, minorUnits(currency)) : '–';
  };
  const add = (item: NamedItem, pack: string) => {
    const units = item.packs.find((p) => p.id === pack)?.units ?? '1';
    flushSync(() => onLines([...lines, { item: item.id, kind: 'goods', quantity: '1', packUnits: units, price: '' }]));
    const field = document.querySelector<HTMLInputElement>(`input[name="quantity-${lines.length}"]`);
    field?.focus();
    field?.select();
  };
  return (
    <>
      {lines.length > 0 ? (
        <table className="ruled mt-4 w-full">
          <thead>
            <tr>
              <th>Item</th>
              <th>What</th>
              <th className="figure">cost packs</th>
              <th className="figure">units in one</th>
              <th className="figure">price of one, {currency}</th>
              <th className="figure">line, {currency}</th>
              <th className="figure">known now</th>
              <th className="figure">change, %</th>
              <th>to look at</th>
              <th></th>
            </tr>
          </thead>
          <tbody>
            {lines.map((l, n) => {
              const item = byId.get(l.item);
              const same = JSON.stringify(saved[n]) === JSON.stringify(l);
              const change = same ? changes.find((c) => c.row === n + 1) : undefined;
              const name = `line ${n + 1}`;
              return (
                <tr key={n} aria-label={`Line ${n + 1}`}>
                  <td>
                    {item?.name ?? '…'}
                    <div className="text-xs text-faint">{item?.sku}</div>
                  </td>
                  <td>
                    {editable ? (
                      <CellSelect
                        aria-label={`What, ${name}`}
                        value={l.kind}
                        onValue={(chosen) => put(n, { kind: chosen as BillLine['kind'] })}
                        options={BILL_LINE_KINDS.map((k) => [k, BILL_LINE_WORDS[k]] as const)}
                      />
                    ) : (
                      BILL_LINE_WORDS[l.kind]
                    )}
                  </td>
                  {(['quantity', 'packUnits', 'price'] as const).map((field) => (
                    <td key={field} className="figure">
                      {editable ? (
                        <NumberInput
                          name={`${field}-${n}`}
                          aria-label={`${FIELD_WORDS[field]}, ${name}`}
                          className="w-24"
                          value={l[field]}
                          onValue={(v) => put(n, { [field]: v })}
                        />
                      ) : (
                        show(l[field], form)
                      )}
                    </td>
                  ))}
                  <td className="figure">{lineWords(l)}</td>
                  <td className="figure whitespace-nowrap">
                    {change?.before ? (
                      <>
                        <Figure value={change.before.amount} places={2} />{' '}
                        <span className="text-xs">{change.before.currency}</span>
                        {change.before.packUnits === '1' ? null : (
                          <div className="text-xs text-faint">for {show(change.before.packUnits, form)}</div>
                        )}
                      </>
                    ) : (
                      '–'
                    )}
                  </td>
                  <td className="figure">{change?.changePercent ? <Change value={change.changePercent} /> : '–'}</td>
                  <td className="max-w-56 text-xs">
                    {l.kind === 'return' ? 'changes no cost' : same ? null : 'kept, it shows what it changes'}
                    {change?.flags.map((f) => (
                      <div key={f} className="text-stop">
                        {flagWords(change, f, writtenIn(form))}
                      </div>
                    ))}
                  </td>
                  <td>
                    {editable ? (
                      <button
                        type="button"
                        aria-label={`Take away ${name}`}
                        className="px-1 text-accent"
                        onClick={() => onLines(lines.filter((_, i) => i !== n))}
                      >
                        ×
                      </button>
                    ) : null}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      ) : null}
      {editable ? (
        <div className="mt-3">
          <ItemPicker label="Add a line: code, name or barcode" onPick={add} />
        </div>
      ) : null}
    </>
  );
}

const FIELD_WORDS = { quantity: 'Cost packs', packUnits: 'Units in one', price: 'Price of one' } as const;
