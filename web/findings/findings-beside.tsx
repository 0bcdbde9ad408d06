import { useEffect, useState } from 'react';
import { Link } from 'react-router';
import { type FindingsOfChange, type SomeFindings, UNCHECKED } from '#contract/findings.ts';
import { problemOf } from '../api.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { showDay, showFact } from '../kit/number-form.ts';
import { MovesTable } from '../lists/moves-table.tsx';
import { countedIn } from '../kit/words.ts';
import { useSignedIn } from '../people/use-me.ts';
import { isDay } from '#core/numbers/day.ts';
import { type ChangeAsked, findingsApi } from './endpoints.ts';

/** After how long a pause in typing it is asked for. */
const PAUSE = 700;
const SHOWN = 4;

type State = { of: string; told: FindingsOfChange } | { of: string; refused: true };

/**
 * What the check finds about a record, beside its form: as it stands what is known already, and while it is changed what
 * keeping it would add and settle. Says nothing to those who may not see costs: findings tell of them.
 */
export function FindingsBeside({
  register,
  id,
  address,
  body,
  changed,
  from,
}: {
  register: string;
  id: string | null;
  /** Where the record is opened: findings name it by that. */
  address: string | null;
  body: object;
  changed: boolean;
  /** From when on it would hold, and the changes to come that the form began with; absent: at once. */
  from?: { readonly day: string | null; readonly upon: readonly string[] };
}) {
  const { counted } = countedIn(useNumberForm());
  const may = useSignedIn().rights.has('see_cost') && !UNCHECKED.includes(register);
  const { data } = findingsApi.useFindingsQuery({ about: address ?? '' }, { skip: !may || id === null || !address });
  const [ask] = findingsApi.useFindingsOfChangeMutation();
  const [state, setState] = useState<State | null>(null);
  const sent = JSON.stringify({
    register,
    id,
    body,
    ...(from?.day && isDay(from.day) ? { day: from.day, upon: from.upon } : {}),
  });
  useEffect(() => {
    if (!may || !changed) return;
    let asked: ReturnType<typeof ask> | null = null;
    const resting = setTimeout(() => {
      asked = ask(JSON.parse(sent) as ChangeAsked);
      asked.unwrap().then(
        (told) => setState({ of: sent, told }),
        // what cannot be kept says so itself when it is kept
        () => setState({ of: sent, refused: true }),
      );
    }, PAUSE);
    return () => {
      clearTimeout(resting);
      asked?.abort();
    };
  }, [ask, may, changed, sent]);
  if (!may) return null;
  const now = changed && state?.of === sent ? state : null;
  const told = now && 'told' in now ? now.told : null;
  const own: SomeFindings = data ?? { count: 0, findings: [] };
  if (!changed && own.count === 0) return null;
  return (
    <section aria-label="What the check finds" className="mt-4 border-t border-rule pt-3 text-sm">
      {changed ? (
        <p aria-live="polite" className="text-faint">
          {told
            ? told.adds.count + told.settles.count === 0
              ? 'Kept like this, the check finds nothing more and nothing less.'
              : 'Kept like this:'
            : now
              ? 'As it is typed it cannot be kept yet.'
              : 'Looking what the check would find …'}
        </p>
      ) : (
        <p>The check finds {counted(own.count, 'thing')} here:</p>
      )}
      {told ? <Told some={told.adds} word="adds" tone="text-stop" /> : null}
      {told ? <Told some={told.settles} word="settles" tone="text-accent" /> : null}
      {told ? <Moves key={sent} asked={JSON.parse(sent) as ChangeAsked} /> : null}
      {changed ? null : <Told some={own} word={null} tone="" />}
      {!changed && own.count > SHOWN ? (
        <Link className="text-accent underline" to={`/findings?${new URLSearchParams({ about: address! }).toString()}`}>
          All of them
        </Link>
      ) : null}
    </section>
  );
}

/** Which computed prices the record as it is typed would move: asked for, for it takes a moment. */
function Moves({ asked }: { asked: ChangeAsked }) {
  const form = useNumberForm();
  const [ask, { data, isLoading, error }] = findingsApi.useMovesOfChangeMutation();
  if (error) return <p className="mt-2 text-stop">{problemOf(error).message}</p>;
  if (!data)
    return (
      <p className="mt-2">
        <button
          type="button"
          className="text-accent underline underline-offset-2"
          disabled={isLoading}
          onClick={() => void ask(asked)}
        >
          {isLoading ? 'Working out which prices would move …' : 'Which prices would move?'}
        </button>
      </p>
    );
  return (
    <div className="mt-2" role="status">
      {data.prices === 0 ? (
        <p>No computed price would move on {showDay(data.day, form)}.</p>
      ) : (
        <>
          <p className="text-faint">
            What recipes would make on {showDay(data.day, form)}, beside what they make now; no posted price changes.
          </p>
          <MovesTable lists={data.lists} />
        </>
      )}
    </div>
  );
}

function Told({ some, word, tone }: { some: SomeFindings; word: string | null; tone: string }) {
  const form = useNumberForm();
  const { counted, whole } = countedIn(form);
  return (
    <ul>
      {some.findings.slice(0, SHOWN).map((f, n) => (
        <li key={n} className="mt-1">
          {word ? <strong className={`font-medium ${tone}`}>{word}: </strong> : null}
          {f.message}{' '}
          <span className="text-faint">
            {f.places
              .slice(0, 2)
              .map((p) => p.title)
              .join('; ')}
          </span>
          {f.items > 0 ? <span className="text-faint">, {counted(f.items, 'item')}</span> : null}
          <span className="ml-2 text-xs text-faint">
            {f.example
              .slice(0, 4)
              .map((e) => `${e.fact} ${e.fact === 'item' ? e.value : showFact(e.value, form)}`)
              .join(', ')}
          </span>
        </li>
      ))}
      {some.count > SHOWN ? <li className="mt-1 text-faint">and {whole(some.count - SHOWN)} more</li> : null}
    </ul>
  );
}
