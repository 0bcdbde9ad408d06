import { Link } from 'react-router';
import type { PostingRequest, RequestState } from '#contract/posting-requests.ts';
import { problemOf } from '../api.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { type Moment, useMoment } from '../frame/moments.ts';
import { Empty, Trouble } from '../kit/controls.tsx';
import { show, showDay } from '../kit/number-form.ts';
import { ledgerApi } from './endpoints.ts';

const STATES: Record<RequestState, string> = {
  waiting: 'waits',
  posted: 'agreed and posted',
  refused: 'refused',
  withdrawn: 'withdrawn',
};

/** What became of a request, by whom and when. */
export const stateWords = ({ state, decided, own }: PostingRequest, moment: Moment): string =>
  decided === null
    ? own
      ? 'waits for somebody else'
      : 'waits for you, or somebody else'
    : `${STATES[state]} by ${decided.by}, ${moment(decided.at)}${decided.why ? `: ${decided.why}` : ''}`;

/** Postings that a second person has to agree to: those that wait come first. */
export function PostingRequests() {
  const { data, error } = ledgerApi.usePostingRequestsQuery();
  const form = useNumberForm();
  const moment = useMoment();
  if (error) return <Trouble>{problemOf(error).message}</Trouble>;
  if (data?.length === 0)
    return (
      <Empty>
        A list can say that a second person agrees to postings that move a price far: under Setup, Price lists. What is
        posted there waits here until somebody else has looked at it.
      </Empty>
    );
  return (
    <table className="ruled w-full max-w-6xl">
      <thead>
        <tr>
          <th className="figure">No.</th>
          <th>In force from</th>
          <th>Lists</th>
          <th className="figure">prices</th>
          <th>Why</th>
          <th>Asked by</th>
          <th>When</th>
          <th>What became of it</th>
        </tr>
      </thead>
      <tbody>
        {data?.map((r) => (
          <tr key={r.id} className={r.state === 'waiting' ? '' : 'text-faint'}>
            <td className="figure">
              <Link to={`/ledger/requests/${r.id}`} className="text-accent underline underline-offset-2">
                {r.id}
              </Link>
            </td>
            <td className="whitespace-nowrap">
              {showDay(r.effective, form)}
              {r.lastDay ? ` until ${showDay(r.lastDay, form)}` : ''}
            </td>
            <td>{r.lists.map((l) => l.name).join(', ')}</td>
            <td className="figure">{show(String(r.prices), form)}</td>
            <td>{r.reason}</td>
            <td>{r.own ? 'you' : r.by}</td>
            <td className="whitespace-nowrap">{moment(r.at)}</td>
            <td>{stateWords(r, moment)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
