import type { Worksheet } from '#contract/worksheets.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { show } from '../kit/number-form.ts';

/** Of prices that post themselves: within what, and why some of them wait for a person. */
export function ByItself({ worksheet, of }: { worksheet: Worksheet; of: NonNullable<Worksheet['byItself']> }) {
  const form = useNumberForm();
  const nameOf = (list: string) => worksheet.lists.find((l) => l.list === list)?.name ?? list;
  const changes = (list: string) => {
    const l = worksheet.lists.find((one) => one.list === list);
    return l !== undefined && l.rises + l.falls + l.first > 0;
  };
  return (
    <ul aria-label="By themselves" className="my-2">
      {of.lists.map(({ list, most, left }) => {
        const posted = worksheet.lists.find((l) => l.list === list)?.postings.length;
        return (
          <li key={list}>
            {nameOf(list)}: posts itself up to {show(most, form)} %
            {left ? (
              <span className="bg-proposed">; waits for you: {left}</span>
            ) : !of.decided ? (
              ', once it is computed'
            ) : posted ? (
              ', and did'
            ) : worksheet.state === 'posting' ? (
              ', and does now'
            ) : changes(list) ? (
              ''
            ) : (
              '; none of its prices changes'
            )}
          </li>
        );
      })}
    </ul>
  );
}
