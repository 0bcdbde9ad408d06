import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import { problemOf } from '../api.ts';
import { Field, Trouble } from '../kit/controls.tsx';
import { counted } from '../kit/words.ts';
import { costsApi } from './endpoints.ts';

/** A bill that came as a file instead of being typed: it becomes a draft, and is looked at like any other. */
export function InvoiceIn({ supplier, onMade }: { supplier: string; onMade: () => void }) {
  const navigate = useNavigate();
  const [bring, { isLoading, error }] = costsApi.useBillFromFileMutation();
  const made = async (file: File) => {
    const done = await bring({ supplier, file });
    if (!done.data) return;
    onMade();
    const { id, left } = done.data;
    if (left.length > 0) toast.warning(`${counted(left.length, 'line')} could not be taken over: the note says which.`);
    void navigate(`/bills/${id}`, { replace: true });
  };
  return (
    <>
      {error ? <Trouble>{problemOf(error).message}</Trouble> : null}
      <Field
        label="Or from a file"
        hint={supplier === '' ? 'choose the supplier first' : 'an invoice in UBL (XML)'}
        className="mt-4 max-w-xl"
      >
        <input
          name="invoice"
          type="file"
          accept=".xml,application/xml,text/xml"
          disabled={supplier === '' || isLoading}
          onClick={(e) => void (e.currentTarget.value = '')}
          onChange={(e) => e.target.files?.[0] && void made(e.target.files[0])}
        />
      </Field>
    </>
  );
}
