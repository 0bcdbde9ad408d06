import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import { problemOf } from '../api.ts';
import { useDay } from '../frame/day.ts';
import { Button } from '../kit/controls.tsx';
import { worksheetsApi } from '../worksheets/endpoints.ts';

/**
 * Has prices proposed for the items alone whose costs came with a sheet or a bill; from the day on which the last of these
 * costs counts.
 */
export function ProposeMoved({
  cameWith: { costSheet = null, bill = null },
  reason,
  from,
  weight,
}: {
  cameWith: { costSheet?: string | null; bill?: string | null };
  reason: string;
  /** The days from which the costs count. */
  from: readonly string[];
  weight: 'main' | 'plain';
}) {
  const { today } = useDay();
  const navigate = useNavigate();
  const [propose, { isLoading }] = worksheetsApi.useProposeMutation();
  const go = async () => {
    const day = from.reduce((last, d) => (d > last ? d : last), today);
    try {
      const made = await propose({ reason, day, lists: [], costSheet, bill }).unwrap();
      void navigate(`/worksheets/${made.id}`);
    } catch (e) {
      toast.error(problemOf(e).message);
    }
  };
  return (
    <Button weight={weight} disabled={isLoading} onClick={() => void go()}>
      Propose the prices it moves
    </Button>
  );
}
