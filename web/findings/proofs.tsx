import { Link } from 'react-router';
import { problemOf } from '../api.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { Trouble } from '../kit/controls.tsx';
import { type NumberForm, showDay, showFact } from '../kit/number-form.ts';
import { counted } from '../kit/words.ts';
import { findingsApi } from './endpoints.ts';

/** What a step came to, "list price 252.5", with its figure as the reader writes figures. */
const figureLast = (step: string | null, form: NumberForm): string =>
  step?.replace(/-?\d+(\.\d+)?$/, (figure) => showFact(figure, form)) ?? 'nothing';

/** Proofs asked again: how many hold, and of the others what must come out, what does, and where it first differs. */
export function Proofs() {
  const form = useNumberForm();
  const { data, error } = findingsApi.useProofsQuery();
  if (error) return <Trouble>{problemOf(error).message}</Trouble>;
  if (!data || data.length === 0) return null;
  const failing = data.filter((p) => !p.holds);
  const holding = data.length - failing.length;
  return (
    <section aria-label="Proofs" className="mb-4">
      <p className={failing.length > 0 ? 'text-stop' : 'text-faint'}>
        {failing.length > 0
          ? `${counted(failing.length, 'proof')} no longer ${failing.length === 1 ? 'comes' : 'come'} out; `
          : ''}
        {counted(holding, 'proof')} {holding === 1 ? 'holds' : 'hold'}.{' '}
        <Link className="text-accent underline" to="/setup/proofs">
          All proofs
        </Link>
      </p>
      {failing.length > 0 ? (
        <table className="ruled w-full max-w-6xl">
          <thead>
            <tr>
              <th>Proof</th>
              <th>for</th>
              <th className="figure">must be</th>
              <th className="figure">comes out</th>
              <th>first differs</th>
            </tr>
          </thead>
          <tbody>
            {failing.map((p) => (
              <tr key={p.id}>
                <td>
                  <Link className="text-accent underline" to={`/setup/proofs?open=${p.id}`}>
                    {p.name}
                  </Link>
                </td>
                <td>{showDay(p.day, form)}</td>
                <td className="figure">{showFact(p.expected, form)}</td>
                <td className="figure text-stop">{showFact(p.actual, form)}</td>
                <td className="text-faint">
                  {p.firstDifference
                    ? `step ${p.firstDifference.step}: ${figureLast(p.firstDifference.actual, form)} instead of ${figureLast(p.firstDifference.expected, form)}`
                    : ''}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      ) : null}
    </section>
  );
}
