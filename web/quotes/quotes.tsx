import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { QUOTE_STATE_NAMES } from '#contract/quotes.ts';
import { quotesApi } from './endpoints.ts';
import { problemOf } from '../api.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { Button, Empty, Field, Input, Trouble, ViewHead } from '../kit/controls.tsx';
import { Select } from '../kit/select.tsx';
import { Figure } from '../kit/figure.tsx';
import { showDay } from '../kit/number-form.ts';
import { useSignedIn } from '../people/use-me.ts';

export function Quotes() {
  const me = useSignedIn();
  const form = useNumberForm();
  const navigate = useNavigate();
  const { data: quotes, error } = quotesApi.useQuotesQuery();
  const [state, setState] = useState('');
  const [text, setText] = useState('');
  const shown = (quotes ?? []).filter(
    (q) =>
      (state === '' || q.state === state) &&
      `${q.number} ${q.customerName} ${q.writtenBy}`.toLowerCase().includes(text.trim().toLowerCase()),
  );
  const write = me.rights.has('write_quotes') ? (
    <Button weight="main" onClick={() => void navigate('/quotes/new')}>
      Write a quote
    </Button>
  ) : null;
  return (
    <>
      <ViewHead
        title="Quotes"
        about="The list follows from the customer’s group; prices follow the quantity; floors hold."
      >
        {write}
      </ViewHead>
      <div className="min-h-0 flex-1 overflow-auto px-5 py-3">
        {error ? <Trouble>{problemOf(error).message}</Trouble> : null}
        {quotes?.length === 0 ? <Empty action={write}>Offers to customers stand here, the latest first.</Empty> : null}
        {quotes && quotes.length > 0 ? (
          <div className="mb-3 flex flex-wrap items-end gap-4">
            <Field label="State">
              <Select
                value={state}
                onValue={(chosen) => setState(chosen)}
                options={[['', 'all'], ...Object.entries(QUOTE_STATE_NAMES)]}
              />
            </Field>
            <Field label="Number, customer or writer">
              <Input value={text} onChange={(e) => setText(e.target.value)} />
            </Field>
            <span className="text-faint">
              {shown.length} of {quotes.length}
            </span>
          </div>
        ) : null}
        {quotes && quotes.length > 0 ? (
          <table className="ruled w-full max-w-5xl">
            <thead>
              <tr>
                <th>Number</th>
                <th>Customer</th>
                <th>List</th>
                <th>Day</th>
                <th>State</th>
                <th className="figure">to pay</th>
                <th>Written by</th>
              </tr>
            </thead>
            <tbody>
              {shown.map((q) => (
                <tr key={q.id}>
                  <td>
                    <Link to={`/quotes/${q.id}`} className="figure text-accent underline underline-offset-2">
                      {q.number}
                    </Link>
                  </td>
                  <td>{q.customerName}</td>
                  <td>{q.listName}</td>
                  <td>{showDay(q.day, form)}</td>
                  <td
                    className={
                      q.state === 'waiting'
                        ? 'bg-warn-ground text-warn'
                        : q.state === 'issued' || q.state === 'accepted'
                          ? ''
                          : 'bg-proposed'
                    }
                  >
                    {QUOTE_STATE_NAMES[q.state]}
                  </td>
                  <td className="figure">
                    {q.toPay === null ? '' : <Figure value={q.toPay} places={2} />}{' '}
                    <span className="text-xs text-faint">{q.toPay === null ? '' : q.currency}</span>
                  </td>
                  <td>{q.writtenBy}</td>
                </tr>
              ))}
            </tbody>
          </table>
        ) : null}
      </div>
    </>
  );
}
