import { useState } from 'react';
import { useNavigate } from 'react-router';
import type { QuoteView } from '#contract/quotes.ts';
import { problemOf } from '../api.ts';
import { Button, Dialog, Field, Input, Trouble } from '../kit/controls.tsx';
import { Figure } from '../kit/figure.tsx';
import { quotesApi } from './endpoints.ts';

/** The customer's yes: from then on the quote is changed by change orders only. */
export function AcceptDialog({ quote, onClose }: { quote: QuoteView; onClose: () => void }) {
  const navigate = useNavigate();
  const [note, setNote] = useState('');
  const [credits, setCredits] = useState(true);
  const [accept, { error, isLoading }] = quotesApi.useAcceptQuoteMutation();
  const keep = async () => {
    try {
      await accept({ id: quote.id, version: quote.version, note, credits }).unwrap();
      void navigate(`/quotes/${quote.id}/changes`);
    } catch {
      /* shown in the dialog */
    }
  };
  return (
    <Dialog open onClose={onClose} title={`Quote ${quote.number} was accepted`}>
      <p>
        <Figure value={quote.figures.toPay} places={2} /> {quote.figures.currency} for {quote.customerName}. Prices,
        rules and rates stay those of the day it was issued; what changes later is a change order.
      </p>
      <div className="mt-3 flex flex-col gap-3">
        <Field label="How the customer said so">
          <Input autoFocus value={note} onChange={(e) => setNote(e.target.value)} placeholder="by letter, order 4711" />
        </Field>
        <label className="flex items-baseline gap-2">
          <input type="checkbox" checked={credits} onChange={(e) => setCredits(e.target.checked)} />
          Where a change makes less of what was charged, money is given back
        </label>
        {error ? <Trouble>{problemOf(error).message}</Trouble> : null}
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Not yet</Button>
          <Button weight="main" disabled={isLoading} onClick={() => void keep()}>
            It was accepted
          </Button>
        </div>
      </div>
    </Dialog>
  );
}
