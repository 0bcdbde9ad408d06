import { useNumberForm } from '../frame/preferences.ts';
import { daysIn } from './number-form.ts';
import { shownDifferences } from './differences.ts';

/** Two records side by side, only where they differ; nested facts by their path. */
export function BeforeAfter({
  before,
  after,
  titles = ['before', 'after'],
}: {
  before: unknown;
  after: unknown;
  titles?: readonly [string, string];
}) {
  const form = useNumberForm();
  const { rows, same } = shownDifferences(before, after);
  return (
    <table className="ruled w-full">
      <thead>
        <tr>
          <th></th>
          <th>{titles[0]}</th>
          <th>{titles[1]}</th>
        </tr>
      </thead>
      <tbody>
        {rows.map((r) => (
          <tr key={r.path}>
            <td className="text-faint">{r.path}</td>
            <td className="figure !text-left">{daysIn(r.before, form)}</td>
            <td className="figure !text-left font-semibold">{daysIn(r.after, form)}</td>
          </tr>
        ))}
        <tr>
          <td colSpan={3} className="text-xs text-faint">
            {rows.length === 0 ? 'Nothing differs.' : `${same} more facts are the same.`}
          </td>
        </tr>
      </tbody>
    </table>
  );
}
