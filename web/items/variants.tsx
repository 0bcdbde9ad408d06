import type { AttributeTerms } from '#core/items/described.ts';
import { useEffect, useMemo, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { toast } from 'sonner';
import Papa from 'papaparse';
import type { ItemFileCheck } from '#contract/item-file.ts';
import { LIKE, attributeHeading } from '#contract/item-file.ts';
import type { ItemPage } from '#contract/items.ts';
import { problemOf } from '../api.ts';
import { Button, Field, Input, Trouble, ViewHead } from '../kit/controls.tsx';
import { counted } from '../kit/words.ts';
import { useRegister } from '../records/use-register.ts';
import { type Axis, combinations, fillPattern } from './combine.ts';
import { itemsApi } from './endpoints.ts';

/** More at once than anybody looks through. */
const MOST = 2_000;
/** So long is waited after the last key before what is typed is looked at, in milliseconds. */
const PAUSE = 400;

/** Variants of an item, made from values of attributes in one go: every combination, each seen before any is made. */
export function Variants() {
  const { id = '' } = useParams();
  const { currentData: item, error } = itemsApi.useItemPageQuery({ id, day: null });
  const { rows: attributes, isLoading } = useRegister('attributes');
  if (error) return <Trouble>{problemOf(error).message}</Trouble>;
  return item && !isLoading ? (
    <Body key={item.id} item={item} attributes={attributes} />
  ) : (
    <p className="p-6 text-faint">Reading the item …</p>
  );
}

/** The item's name with the values in it that can vary, as a pattern. */
function patternOf(text: string, item: ItemPage): string {
  return item.attributes.reduce(
    (t, a) => (a.value.length > 1 || /^\d+$/.test(a.value) ? t.replace(a.value, `{${a.name}}`) : t),
    text,
  );
}

const fileOf = (rows: readonly (readonly string[])[]) =>
  new File([Papa.unparse(rows as string[][])], 'variants.csv', { type: 'text/csv' });

function Body({ item, attributes }: { item: ItemPage; attributes: readonly AttributeTerms[] }) {
  const navigate = useNavigate();
  const [chosen, setChosen] = useState<Readonly<Record<string, readonly string[]>>>({});
  const [sku, setSku] = useState(`${item.sku}-`);
  const [name, setName] = useState(patternOf(item.name, item));
  const [model, setModel] = useState(item.model ?? '');
  const [check, checking] = itemsApi.useCheckItemFileMutation();
  const [take, taking] = itemsApi.useTakeItemFileMutation();
  const [found, setFound] = useState<{ of: File; check: ItemFileCheck } | null>(null);
  const axes = useMemo(
    (): Axis[] => attributes.map((a) => ({ name: a.name, values: chosen[a.name] ?? [] })),
    [attributes, chosen],
  );
  const rows = useMemo(() => {
    const varied = axes.filter((a) => a.values.length > 0);
    return varied.length === 0
      ? []
      : combinations(axes).map((values) => ({
          values,
          sku: fillPattern(sku, values),
          name: fillPattern(name, values),
        }));
  }, [axes, sku, name]);
  const file = useMemo(() => {
    const varied = axes.filter((a) => a.values.length > 0);
    const heads = ['SKU', LIKE, 'Name', 'Model', ...varied.map((a) => attributeHeading(a.name))];
    return rows.length === 0 || rows.length > MOST
      ? null
      : fileOf([heads, ...rows.map((r) => [r.sku, item.sku, r.name, model, ...varied.map((a) => r.values[a.name]!)])]);
  }, [rows, axes, item.sku, model]);
  useEffect(() => {
    if (!file) return;
    const soon = setTimeout(() => {
      void check({ file, decimal: 'point' }).then((a) => a.data && setFound({ of: file, check: a.data }));
    }, PAUSE);
    return () => clearTimeout(soon);
  }, [file, check]);
  const told = found && found.of === file ? found.check : null;
  const faultOf = new Map(
    told?.faults.map((f) => [f.row, f.column === 'SKU' ? f.message : `${f.column} ${f.value} ${f.message}`]),
  );
  const twice = new Set(rows.filter((r, i) => rows.findIndex((o) => o.sku === r.sku) !== i).map((r) => r.sku));
  const ready = told !== null && told.counts.new > 0;
  const make = async () => {
    if (!file || !told) return;
    const done = await take({ file, decimal: 'point', state: told.state });
    if (!done.data) return;
    toast.success(`${counted(done.data.new, 'variant')} made. It can be taken back under Items, As a file.`);
    void navigate(`/items?find=${encodeURIComponent(model || item.sku)}`);
  };
  const has = (a: AttributeTerms) => Number(item.attributes.some((i) => i.name === a.name));
  const ownFirst = [...attributes].sort((a, b) => has(b) - has(a));
  const trouble = checking.error ?? taking.error;
  return (
    <>
      <ViewHead
        title={`Variants of ${item.name}`}
        about={`Each is like ${item.sku}, but for its codes and the values chosen here. None has a cost yet.`}
      >
        <Link to={`/items/${item.id}`} className="border border-rule-strong px-3 py-1 font-medium text-accent">
          Back to the item
        </Link>
        <Button weight="main" disabled={!ready || taking.isLoading} onClick={() => void make()}>
          Make {told ? counted(told.counts.new, 'item') : 'them'}
        </Button>
      </ViewHead>
      <div className="flex min-h-0 flex-1 max-lg:flex-col max-lg:overflow-auto">
        <div className="w-80 shrink-0 overflow-auto border-r border-rule px-5 py-4 max-lg:w-full max-lg:overflow-visible max-lg:border-r-0 max-lg:border-b">
          <h2>Values</h2>
          {attributes.length === 0 ? (
            <p className="text-faint">
              No attribute is declared:{' '}
              <Link to="/setup/attributes?open=new" className="text-accent underline">
                declare the first
              </Link>
              .
            </p>
          ) : null}
          {ownFirst.map((a) => (
            <AxisField
              key={a.name}
              attribute={a}
              own={item.attributes.find((i) => i.name === a.name)?.value ?? null}
              values={chosen[a.name] ?? []}
              onValues={(values) => setChosen({ ...chosen, [a.name]: values })}
            />
          ))}
        </div>
        <div className="min-w-0 flex-1 overflow-auto px-5 py-4 max-lg:flex-none max-lg:overflow-visible">
          <div className="flex flex-wrap gap-x-6 gap-y-3">
            <Field
              label="SKU of each"
              hint="{colour} is the value, {colour:2} its first two letters, {diameter:02} in two digits"
            >
              <Input name="sku" className="w-72" value={sku} onChange={(e) => setSku(e.target.value)} />
            </Field>
            <Field label="Name of each" className="min-w-80 flex-1">
              <Input name="name" value={name} onChange={(e) => setName(e.target.value)} />
            </Field>
            <Field label="Model">
              <Input name="model" value={model} onChange={(e) => setModel(e.target.value)} />
            </Field>
          </div>
          {trouble ? <Trouble>{problemOf(trouble).message}</Trouble> : null}
          <p className="mt-4" role="status">
            {rows.length === 0
              ? 'Choose values on the left: every combination becomes an item.'
              : rows.length > MOST
                ? `${rows.length} are more than can be looked through: at most ${MOST} at once.`
                : told
                  ? `${counted(told.counts.new, 'new item')}${told.counts.faulty > 0 ? `, ${told.counts.faulty} not made` : ''}.`
                  : 'Looking …'}
          </p>
          {rows.length > 0 && rows.length <= MOST ? (
            <table className="ruled mt-2">
              <thead>
                <tr>
                  <th>SKU</th>
                  <th>Name</th>
                  {axes.map((a) => (a.values.length > 0 ? <th key={a.name}>{a.name}</th> : null))}
                  <th></th>
                </tr>
              </thead>
              <tbody>
                {rows.slice(0, 500).map((r, i) => (
                  <tr key={i}>
                    <td className="whitespace-nowrap">{r.sku}</td>
                    <td>{r.name}</td>
                    {axes.map((a) => (a.values.length > 0 ? <td key={a.name}>{r.values[a.name]}</td> : null))}
                    <td className="text-stop">{twice.has(r.sku) ? 'the same SKU twice' : faultOf.get(i + 2)}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          ) : null}
        </div>
      </div>
    </>
  );
}

/** The values of one attribute that variants have: ticked where it has a list, else typed, parted by semicolons. */
function AxisField({
  attribute: { name, unit, values: offered = [], kind },
  own,
  values,
  onValues,
}: {
  attribute: AttributeTerms;
  own: string | null;
  values: readonly string[];
  onValues: (values: readonly string[]) => void;
}) {
  const title = `${name}${unit ? `, ${unit}` : ''}`;
  const [typed, setTyped] = useState(values.join('; '));
  if (kind !== 'choice')
    return (
      <Field label={title} hint={own ? `of the item itself: ${own}` : undefined} className="mt-3">
        <Input
          name={name}
          value={typed}
          placeholder="8; 10; 12"
          onChange={(e) => {
            setTyped(e.target.value);
            onValues([
              ...new Set(
                e.target.value
                  .split(';')
                  .map((t) => t.trim())
                  .filter((t) => t !== ''),
              ),
            ]);
          }}
        />
      </Field>
    );
  return (
    <fieldset className="mt-3">
      <legend className="text-xs text-faint">
        {title}
        {own ? ` (of the item itself: ${own})` : ''}
      </legend>
      <div className="flex flex-wrap gap-x-4">
        {offered.map((v) => (
          <label key={v} className="flex items-center gap-1.5">
            <input
              type="checkbox"
              checked={values.includes(v)}
              onChange={(e) =>
                onValues(
                  e.target.checked
                    ? offered.filter((o) => o === v || values.includes(o))
                    : values.filter((o) => o !== v),
                )
              }
            />
            {v}
          </label>
        ))}
      </div>
    </fieldset>
  );
}
