import { useState } from 'react';
import type { QuoteView } from '#contract/quotes.ts';
import { quotesApi } from './endpoints.ts';
import { problemOf } from '../api.ts';
import { Button, Field, Input, Trouble } from '../kit/controls.tsx';
import { useSignedIn } from '../people/use-me.ts';

/** A second person's yes or no. */
export function Decide({ quote }: { quote: QuoteView }) {
  const me = useSignedIn();
  const [note, setNote] = useState('');
  const [decide, { isLoading, error }] = quotesApi.useDecideQuoteMutation();
  const broken = quote.figures.lines.filter((l) => l.broken || l.asks.length > 0);
  const may = me.rights.has('approve') && quote.writtenById !== me.id;
  return (
    <Trouble tone="warn">
      <p>
        Waiting for approval:{' '}
        {broken.length === 0
          ? 'it was asked for earlier figures; as they are now, no line is under a floor and no rule asks.'
          : broken.length === 1
            ? 'one line is under a floor, or a rule asks for it.'
            : `${broken.length} lines are under a floor, or a rule asks for them.`}
      </p>
      {error ? <p className="text-stop">{problemOf(error).message}</p> : null}
      {may ? (
        <div className="mt-2 flex items-end gap-3 text-ink">
          <Field label="Note" className="w-72">
            <Input name="decisionNote" value={note} onChange={(e) => setNote(e.target.value)} />
          </Field>
          <Button
            weight="main"
            disabled={isLoading}
            onClick={() => void decide({ id: quote.id, version: quote.version, decision: 'approved', note })}
          >
            Approve
          </Button>
          <Button
            weight="stop"
            disabled={isLoading}
            onClick={() => void decide({ id: quote.id, version: quote.version, decision: 'declined', note })}
          >
            Decline
          </Button>
        </div>
      ) : null}
    </Trouble>
  );
}
