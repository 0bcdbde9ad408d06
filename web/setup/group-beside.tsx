import { useState } from 'react';
import { Link } from 'react-router';
import { toast } from 'sonner';
import { problemOf } from '../api.ts';
import { Button, Field, Input, Trouble } from '../kit/controls.tsx';
import { faultWords } from '../kit/faults.tsx';
import { counted } from '../kit/words.ts';
import { recordsApi } from '../records/endpoints.ts';
import { useRegister } from '../records/use-register.ts';

const MOST_NAMED = 30;

/** Who is in a group; and a copy of it, with all that is for it, under another name. */
export function GroupBeside({ id }: { id: string }) {
  const { rows: customers } = useRegister('customers');
  const [name, setName] = useState('');
  const [copy, { error, isLoading }] = recordsApi.useCopyGroupMutation();
  const members = customers.filter((c) => (c.groups as string[]).includes(id));
  const problem = error && problemOf(error);
  const copyIt = async () => {
    try {
      await copy({ id, name }).unwrap();
      toast.success(`The group is copied as “${name}”, with its reductions, breaks, floors and lists.`);
      setName('');
    } catch {
      /* shown below */
    }
  };
  return (
    <section className="mt-4 border-t border-rule pt-3">
      <p>
        {counted(members.length, 'member')}
        {members.length > 0 ? ': ' : ''}
        {members.slice(0, MOST_NAMED).map((c, n) => (
          <span key={c.id}>
            {n > 0 ? ', ' : ''}
            <Link className="text-accent underline" to={`/setup/customers?open=${c.id}`}>
              {c.name}
            </Link>
          </span>
        ))}
        {members.length > MOST_NAMED ? ` and ${members.length - MOST_NAMED} more` : ''}
      </p>
      <div className="mt-3 flex items-end gap-3">
        <Field label="Copy it, with its reductions, breaks, floors and lists, as">
          <Input name="copyName" value={name} onChange={(e) => setName(e.target.value)} />
        </Field>
        <Button disabled={isLoading || name.trim() === ''} onClick={() => void copyIt()}>
          Copy the group
        </Button>
      </div>
      {problem ? (
        <Trouble>
          {problem.message} {faultWords(problem.faults)}
        </Trouble>
      ) : null}
    </section>
  );
}
