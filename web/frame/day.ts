import { useSearchParams } from 'react-router';
import { useSignedIn } from '../people/use-me.ts';

/** The day that figures are shown for; it stands in the address. Null: today. */
export function useDay(): { asked: string | null; day: string; today: string; setDay: (day: string | null) => void } {
  const [params, setParams] = useSearchParams();
  const { today } = useSignedIn().workspace;
  const given = params.get('day');
  const asked = given && /^\d{4}-\d{2}-\d{2}$/.test(given) && given !== today ? given : null;
  return {
    asked,
    today,
    day: asked ?? today,
    setDay: (day) =>
      setParams((now) => {
        const next = new URLSearchParams(now);
        if (day && day !== today) next.set('day', day);
        else next.delete('day');
        return next;
      }),
  };
}
