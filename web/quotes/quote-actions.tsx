import { useState } from 'react';
import { Link } from 'react-router';
import type { QuoteView } from '#contract/quotes.ts';
import { Button } from '../kit/controls.tsx';
import { AcceptDialog } from './accept-dialog.tsx';
import { complete } from './body.ts';
import type { EditedQuote } from './use-quote.ts';

type Asked = Pick<
  EditedQuote,
  'body' | 'changed' | 'own' | 'mayWrite' | 'editable' | 'saving' | 'keep' | 'advance' | 'copy'
>;

/** What can be done with a quote as it stands. */
export function QuoteActions({ quote, edited }: { quote: QuoteView | null; edited: Asked }) {
  const { body, changed, own, mayWrite, editable, saving } = edited;
  const [accepting, setAccepting] = useState(false);
  const settled = quote?.state === 'issued' || quote?.state === 'accepted';
  // what was typed is kept before anything else becomes of it
  const standing = quote !== null && editable && !changed;
  return (
    <>
      {quote && accepting ? <AcceptDialog quote={quote} onClose={() => setAccepting(false)} /> : null}
      {quote ? (
        <a
          href={`/api/quotes/${quote.id}/pdf`}
          target="_blank"
          rel="noreferrer"
          className="border border-rule-strong px-3 py-1 font-medium text-accent hover:bg-chosen"
        >
          PDF
        </a>
      ) : null}
      {quote?.state === 'issued' && mayWrite && own ? (
        <Button weight="main" onClick={() => setAccepting(true)}>
          Accepted by the customer
        </Button>
      ) : null}
      {quote?.state === 'accepted' ? (
        <Link
          to={`/quotes/${quote.id}/changes`}
          className="border border-accent bg-accent px-3 py-1 font-medium text-on-accent"
        >
          Change orders
        </Link>
      ) : null}
      {settled && mayWrite ? <Button onClick={() => void edited.copy()}>Copy to a new quote</Button> : null}
      {standing && quote.figures.outcome === 'asks_approval' && quote.state === 'draft' ? (
        <Button weight="main" onClick={() => void edited.advance('ask')}>
          Ask for approval
        </Button>
      ) : null}
      {standing && (quote.state === 'approved' || (quote.state === 'draft' && quote.figures.outcome === 'fine')) ? (
        <Button weight="main" onClick={() => void edited.advance('issue')}>
          Issue
        </Button>
      ) : null}
      {editable && (changed || !quote) ? (
        <Button
          weight="main"
          disabled={body.customer === '' || saving || (body.lines.length > 0 && !complete(body))}
          onClick={() => void edited.keep()}
        >
          Keep the quote
        </Button>
      ) : null}
    </>
  );
}
