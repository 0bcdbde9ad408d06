import { type FormEvent, useState } from 'react';
import { toast } from 'sonner';
import { problemOf } from '../api.ts';
import { useMoment } from '../frame/moments.ts';
import { Button, Dialog, Field, Input } from '../kit/controls.tsx';
import { useSignedIn } from '../people/use-me.ts';
import { connectionWords } from './connection-words.ts';
import { costsApi } from './endpoints.ts';

/** How the supplier of an item is connected; who writes quotes may ask for it. */
export function ItemConnection({ item }: { item: string }) {
  const me = useSignedIn();
  const moment = useMoment();
  const { currentData: c } = costsApi.useItemConnectionQuery(item);
  const [ask, { isLoading }] = costsApi.useAskForConnectionMutation();
  const [asking, setAsking] = useState(false);
  const [note, setNote] = useState('');
  if (!c) return null;
  const submit = async (e: FormEvent) => {
    e.preventDefault();
    try {
      const made = await ask({ item, note }).unwrap();
      toast.success(`A connection of ${made.supplierName} is asked for.`);
      setAsking(false);
    } catch (error) {
      toast.error(problemOf(error).message);
    }
  };
  return (
    <>
      {connectionWords(c, moment)}
      {c.state === 'on' && c.trouble ? <span className="text-stop"> · {c.trouble}</span> : null}
      {c.state === null && me.rights.has('write_quotes') ? (
        <>
          {' '}
          <button type="button" className="text-accent underline underline-offset-2" onClick={() => setAsking(true)}>
            ask for a connection …
          </button>
        </>
      ) : null}
      <Dialog open={asking} onClose={() => setAsking(false)} title={`Ask for a connection of ${c.supplierName}`}>
        <form onSubmit={(e) => void submit(e)} className="flex flex-col gap-3">
          <p>
            Costs of its items would then come by themselves and wait in the inbox. An administrator connects it; the
            wish stands under Costs.
          </p>
          <Field label="What for">
            <Input name="note" autoFocus maxLength={300} value={note} onChange={(e) => setNote(e.target.value)} />
          </Field>
          <div className="flex justify-end gap-2">
            <Button onClick={() => setAsking(false)}>Cancel</Button>
            <Button type="submit" weight="main" disabled={isLoading}>
              Ask for it
            </Button>
          </div>
        </form>
      </Dialog>
    </>
  );
}
