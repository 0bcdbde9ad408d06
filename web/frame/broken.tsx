import { useRouteError } from 'react-router';
import { Button } from '../kit/controls.tsx';

/** Stands where a page could not be drawn: what happened, and the way on. */
export function Broken() {
  const error = useRouteError();
  return (
    <div role="alert" className="m-6 max-w-prose border-l-4 border-stop bg-stop-ground px-4 py-3">
      <h1>This page could not be shown</h1>
      <p className="my-2">
        Everything that was kept is safe. What was typed on this page and not kept is gone.
        {error instanceof Error ? ` The reason, for whoever looks after Hard Ledger: ${error.message}` : ''}
      </p>
      <div className="flex gap-2">
        <Button onClick={() => location.reload()}>Show it again</Button>
        <Button onClick={() => location.assign('/today')}>Go to Today</Button>
      </div>
    </div>
  );
}
