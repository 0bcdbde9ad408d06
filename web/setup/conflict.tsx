import { BeforeAfter } from '../ledger/before-after.tsx';
import { Button, Trouble } from '../kit/controls.tsx';

/** Two people changed the same thing: both versions, and the choice. */
export function Conflict({
  message,
  theirs,
  mine,
  onInsist,
  onGiveWay,
}: {
  message: string;
  theirs: object;
  mine: object;
  onInsist: () => void;
  onGiveWay: () => void;
}) {
  const { id: _id, version: _version, ...their } = theirs as Record<string, unknown>;
  return (
    <div className="my-2">
      <Trouble tone="warn">
        <p>{message}</p>
        <div className="mt-2 text-ink">
          <BeforeAfter before={their} after={mine} titles={['in store', 'yours']} />
        </div>
        <div className="mt-2 flex gap-2">
          <Button onClick={onGiveWay}>Take theirs</Button>
          <Button onClick={onInsist}>Go on with mine</Button>
        </div>
      </Trouble>
    </div>
  );
}
