import { LOOKS, type Look, OPEN_LOOKS } from '#contract/looks.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { countedIn } from '../kit/words.ts';

/** Which of a list's prices are shown, each with how many there are. A look with nothing in it is not offered. */
export function ListLooks({
  counts,
  look,
  open,
  onLook,
}: {
  counts: Readonly<Record<Look, number>>;
  look: Look;
  /** Only the looks that need no look at costs. */
  open: boolean;
  onLook: (look: Look) => void;
}) {
  const { whole } = countedIn(useNumberForm());
  const looks = (Object.keys(LOOKS) as Look[])
    .filter((k) => !open || OPEN_LOOKS.includes(k))
    .filter((k) => k === 'all' || k === look || counts[k] > 0);
  if (looks.length < 2) return null;
  return (
    <div role="group" aria-label="Which prices" className="flex flex-wrap gap-1 border-b border-rule px-4">
      {looks.map((k) => (
        <button
          key={k}
          type="button"
          aria-pressed={look === k}
          onClick={() => onLook(k === look ? 'all' : k)}
          className={`border-b-2 px-2 py-1 ${look === k ? 'border-accent font-medium' : 'border-transparent'}`}
        >
          <span className="figure">{whole(counts[k])}</span> {LOOKS[k].title}
        </button>
      ))}
    </div>
  );
}
