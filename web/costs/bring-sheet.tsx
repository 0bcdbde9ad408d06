import { type FormEvent, useState } from 'react';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import { problemOf } from '../api.ts';
import { useDay } from '../frame/day.ts';
import { Button, Dialog, Field, Trouble } from '../kit/controls.tsx';
import { SupplierField } from './supplier-field.tsx';
import { costsApi } from './endpoints.ts';

/** Brings in a supplier's file, or cells that were copied in a spreadsheet. */
export function BringSheet({ open, onClose }: { open: boolean; onClose: () => void }) {
  const { today } = useDay();
  const [bring, { isLoading, error }] = costsApi.useBringSheetMutation();
  const [supplier, setSupplier] = useState('');
  const [file, setFile] = useState<File | null>(null);
  const [cells, setCells] = useState('');
  const navigate = useNavigate();
  const pasted = cells.trim() !== '';
  const submit = async (e: FormEvent) => {
    e.preventDefault();
    const content = file ?? new File([cells], `pasted ${today}.tsv`, { type: 'text/tab-separated-values' });
    const made = await bring({ supplier, file: content });
    if (!made.data) return;
    if (made.data.byItself) toast.success('Nothing in it is suspicious: its costs were taken in by themselves.');
    void navigate(`/costs/${made.data.id}`);
  };
  return (
    <Dialog open={open} onClose={onClose} title="Bring in a cost sheet">
      <form onSubmit={(e) => void submit(e)} className="flex flex-col gap-4">
        {error ? <Trouble>{problemOf(error).message}</Trouble> : null}
        <SupplierField value={supplier} onValue={setSupplier} className="w-full" />
        <Field
          label="File"
          hint="XLSX, CSV with any delimiter and encoding, or a UBL catalogue (XML). It is read as this supplier’s last one was; how, is shown next, and nothing is taken in before you say so."
        >
          <input
            name="file"
            type="file"
            accept=".csv,.txt,.tsv,.xlsx,.xml,text/csv"
            onChange={(e) => setFile(e.target.files?.[0] ?? null)}
            className="field"
          />
        </Field>
        {file === null ? (
          <Field label="or cells, copied in a spreadsheet with the row that names them">
            <textarea
              name="cells"
              rows={4}
              value={cells}
              onChange={(e) => setCells(e.target.value)}
              className="field figure !text-left whitespace-pre"
            />
          </Field>
        ) : null}
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" weight="main" disabled={supplier === '' || (file === null && !pasted) || isLoading}>
            {isLoading ? 'Reading …' : file === null && pasted ? 'Read the cells' : 'Read the file'}
          </Button>
        </div>
      </form>
    </Dialog>
  );
}
