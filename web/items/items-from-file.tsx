import { type ReactNode, useState } from 'react';
import { Link } from 'react-router';
import { toast } from 'sonner';
import type { ItemFileCheck, ItemFileTaken } from '#contract/item-file.ts';
import { problemOf } from '../api.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { useMoment } from '../frame/moments.ts';
import { Button, Field, Trouble, ViewHead } from '../kit/controls.tsx';
import { Select } from '../kit/select.tsx';
import { show } from '../kit/number-form.ts';
import { countedIn } from '../kit/words.ts';
import { useSignedIn } from '../people/use-me.ts';
import { downloadItemsWorkbook } from './items-workbook.ts';
import { itemsApi } from './endpoints.ts';

const LINK = 'text-accent underline underline-offset-2';
type Mark = 'comma' | 'point';
const wordOf = (mark: ',' | '.'): Mark => (mark === ',' ? 'comma' : 'point');

/** Items out as a file and in again: what a file would change is seen, row by row, before any of it is taken. */
export function ItemsFromFile() {
  const me = useSignedIn();
  const form = useNumberForm();
  const { whole: n, counted } = countedIn(form);
  const [file, setFile] = useState<File | null>(null);
  const [found, setFound] = useState<ItemFileCheck | null>(null);
  const [check, checking] = itemsApi.useCheckItemFileMutation();
  const [take, taking] = itemsApi.useTakeItemFileMutation();
  const may = me.rights.has('edit_rules');
  const comma = form === 'comma' ? '?decimal=comma' : '';
  const look = async (chosen: File, decimal?: Mark) => {
    setFile(chosen);
    setFound(null);
    taking.reset();
    const answer = await check({ file: chosen, ...(decimal ? { decimal } : {}) });
    if (answer.data) setFound(answer.data);
  };
  const keep = async () => {
    if (!file || !found) return;
    const done = await take({ file, decimal: wordOf(found.decimal), state: found.state });
    if (!done.data) return;
    setFile(null);
    setFound(null);
    const { new: fresh, changed } = done.data;
    toast.success(`Taken in: ${n(fresh)} new, ${n(changed)} changed. It can be taken back below.`);
  };
  const problem = checking.error ?? taking.error;
  const told = problem ? problemOf(problem) : null;
  const takes = found ? found.counts.new + found.counts.changed : 0;
  return (
    <>
      <ViewHead
        title="Items as a file"
        about="Take all items out, change them in a spreadsheet, and bring them back: what differs is shown before it is taken."
      >
        <Button onClick={() => void downloadItemsWorkbook()}>All items as a workbook</Button>
        <a href={`/api/item-file${comma}`} download="items.csv" className={LINK}>
          as CSV
        </a>
      </ViewHead>
      <div className="min-h-0 flex-1 overflow-auto px-5 py-4">
        {may ? (
          <div className="flex flex-wrap items-end gap-x-6 gap-y-3">
            <Field
              label="A file of items"
              hint="XLSX or CSV with a column SKU. What has no column stays as it is; an empty cell empties its field; items that are not in it stay."
              className="max-w-2xl"
            >
              <input
                name="file"
                type="file"
                accept=".csv,.txt,.tsv,.xlsx,text/csv"
                // the same file again, after it was mended
                onClick={(e) => void (e.currentTarget.value = '')}
                onChange={(e) => e.target.files?.[0] && void look(e.target.files[0])}
              />
            </Field>
            {found && file && !/\.xlsx$/i.test(file.name) ? (
              <Field label="Numbers are written with">
                <Select
                  name="decimal"
                  value={wordOf(found.decimal)}
                  onValue={(chosen) => void look(file, chosen as Mark)}
                  options={[
                    ['comma', 'a decimal comma'],
                    ['point', 'a decimal point'],
                  ]}
                />
              </Field>
            ) : null}
          </div>
        ) : null}
        {checking.isLoading ? <p className="mt-4 text-faint">Reading {file?.name} …</p> : null}
        {told ? (
          <Trouble>
            {told.message}{' '}
            {told.code === 'item_file_state' && file ? (
              <button type="button" className={LINK} onClick={() => void look(file)}>
                look again
              </button>
            ) : null}
          </Trouble>
        ) : null}
        {found ? (
          <>
            <p className="mt-4" role="status">
              <strong>{found.fileName}</strong>: {n(found.counts.new)} new, {n(found.counts.changed)} changed,{' '}
              {n(found.counts.same)} as they are
              {found.counts.faulty > 0 ? (
                <span className="text-stop">, {counted(found.counts.faulty, 'row')} cannot be taken</span>
              ) : null}
              .
            </p>
            {found.unknown.length > 0 ? (
              <p className="text-warn">
                Not known here, and left alone: {found.unknown.map((h) => `“${h}”`).join(', ')}.
              </p>
            ) : null}
            {found.byColumn.length > 0 ? (
              <p className="text-faint">{found.byColumn.map((c) => `${c.column} of ${n(c.items)}`).join(', ')}</p>
            ) : null}
            <div className="my-3 flex gap-2">
              <Button weight="main" disabled={takes === 0 || taking.isLoading} onClick={() => void keep()}>
                {found.counts.faulty > 0
                  ? `Take in the ${n(takes)} that are right`
                  : `Take in ${counted(takes, 'item')}`}
              </Button>
              <Button onClick={() => (setFound(null), setFile(null))}>Leave it</Button>
            </div>
            <Faults found={found} />
            <Differences found={found} />
          </>
        ) : null}
        <Taken may={may} />
      </div>
    </>
  );
}

function Faults({ found }: { found: ItemFileCheck }) {
  if (found.faults.length === 0) return null;
  return (
    <Table title="Cannot be taken" heads={['Row', 'Column', 'What stands there', '']}>
      {found.faults.map((f, i) => (
        <tr key={i}>
          <td className="figure">{f.row}</td>
          <td>{f.column}</td>
          <td className="max-w-64 truncate">{f.value}</td>
          <td className="text-stop">{f.message}</td>
        </tr>
      ))}
    </Table>
  );
}

function Differences({ found }: { found: ItemFileCheck }) {
  const form = useNumberForm();
  const shown = (text: string) => (/^-?\d+(\.\d+)?$/.test(text) ? show(text, form) : text);
  if (found.rows.length === 0) return null;
  const all = found.counts.new + found.counts.changed;
  return (
    <>
      <Table title="What differs" heads={['Row', 'SKU', 'Name', 'Field', 'is', 'becomes']}>
        {found.rows.flatMap((r) =>
          r.changes.map((c, i) => (
            <tr key={`${r.row} ${c.column}`}>
              {i === 0 ? (
                <>
                  <td rowSpan={r.changes.length} className="figure align-top">
                    {r.row}
                  </td>
                  <td rowSpan={r.changes.length} className="align-top whitespace-nowrap">
                    {r.item ? (
                      <Link to={`/items/${r.item}`} className={LINK}>
                        {r.sku}
                      </Link>
                    ) : (
                      <>
                        {r.sku} <span className="text-faint">new</span>
                      </>
                    )}
                  </td>
                  <td rowSpan={r.changes.length} className="max-w-72 truncate align-top">
                    {r.name}
                  </td>
                </>
              ) : null}
              <td className="whitespace-nowrap">{c.column}</td>
              <td className="text-faint">{shown(c.before)}</td>
              <td className="bg-proposed">{c.after === '' ? <i>empty</i> : shown(c.after)}</td>
            </tr>
          )),
        )}
      </Table>
      {found.rows.length < all ? (
        <p className="mt-1 text-faint">
          The first {found.rows.length} of {show(String(all), form)}.
        </p>
      ) : null}
    </>
  );
}

function Taken({ may }: { may: boolean }) {
  const moment = useMoment();
  const { data: files = [] } = itemsApi.useItemFilesQuery();
  const [takeBack, { isLoading }] = itemsApi.useTakeItemFileBackMutation();
  if (files.length === 0) return null;
  const undo = async (f: ItemFileTaken) => {
    const done = await takeBack(f.id);
    if (done.error) toast.error(problemOf(done.error).message);
    else toast.success(`${f.fileName} is taken back: its items are as they were.`);
  };
  return (
    <Table title="Taken in" heads={['File', 'When', 'By', 'new', 'changed', '']}>
      {files.map((f) => (
        <tr key={f.id}>
          <td>{f.fileName}</td>
          <td className="whitespace-nowrap">{moment(f.takenAt)}</td>
          <td>{f.takenBy}</td>
          <td className="figure">{f.new}</td>
          <td className="figure">{f.changed}</td>
          <td>
            {f.takenBack ? (
              <span className="text-faint">taken back</span>
            ) : may ? (
              <button type="button" className={LINK} disabled={isLoading} onClick={() => void undo(f)}>
                take back
              </button>
            ) : null}
          </td>
        </tr>
      ))}
    </Table>
  );
}

function Table({ title, heads, children }: { title: string; heads: readonly string[]; children: ReactNode }) {
  return (
    <section aria-label={title} className="mt-6">
      <h2>{title}</h2>
      <table className="ruled">
        <thead>
          <tr>
            {heads.map((h, i) => (
              <th key={i} className={['Row', 'new', 'changed'].includes(h) ? 'figure' : ''}>
                {h}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>{children}</tbody>
      </table>
    </section>
  );
}
