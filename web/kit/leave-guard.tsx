import { useEffect, useRef } from 'react';
import { useBlocker } from 'react-router';
import { Button, Dialog } from './controls.tsx';

/**
 * Asks before typed work is left behind: on a way to another page, and when the tab is closed. `letGo` opens the way for
 * the step that follows keeping it.
 */
export function useLeaveGuard(changed: boolean, what: string) {
  const free = useRef(false);
  const blocker = useBlocker(
    ({ currentLocation, nextLocation }) =>
      changed && !free.current && currentLocation.pathname !== nextLocation.pathname,
  );
  useEffect(() => {
    if (!changed) {
      free.current = false;
      return;
    }
    const ask = (e: BeforeUnloadEvent) => e.preventDefault();
    addEventListener('beforeunload', ask);
    return () => removeEventListener('beforeunload', ask);
  }, [changed]);
  const question =
    blocker.state === 'blocked' ? (
      <Dialog open onClose={() => blocker.reset()} title={`${what} has changes that are not kept`}>
        <p>Leaving now throws away what was typed.</p>
        <div className="mt-4 flex justify-end gap-2">
          <Button weight="stop" onClick={() => blocker.proceed()}>
            Throw it away and leave
          </Button>
          <Button weight="main" autoFocus onClick={() => blocker.reset()}>
            Stay here
          </Button>
        </div>
      </Dialog>
    ) : null;
  return { question, letGo: () => (free.current = true) };
}
