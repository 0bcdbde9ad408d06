import { useState } from 'react';
import { toast } from 'sonner';
import type { PriceCheck, PriceCheckBody } from '#contract/quotes.ts';
import { problemOf } from '../api.ts';
import { Button, Dialog, Field, Input, Trouble } from '../kit/controls.tsx';
import { faultWords } from '../kit/faults.tsx';
import { NumberInput } from '../kit/number-input.tsx';
import { recordsApi } from '../records/endpoints.ts';

/** Keeps a checked price with the answer that must come out: from then on it is asked again. */
export function ProofDialog({
  check,
  found,
  name: start,
  onClose,
}: {
  check: PriceCheckBody;
  found: PriceCheck;
  name: string;
  onClose: () => void;
}) {
  const line = found.figures.lines[0]!;
  const [name, setName] = useState(start);
  const [price, setPrice] = useState(line.unitPrice ?? '');
  const [keep, { error, isLoading }] = recordsApi.useRecordMutation();
  const problem = error && problemOf(error);
  const { group, ...asked } = check;
  const keepIt = async () => {
    try {
      await keep({
        register: 'proofs',
        id: null,
        body: {
          name,
          question: { kind: 'price', ...asked, ...(group === null ? {} : { groups: [group] }) },
          expect: { price, reason: null, floor: null },
          good: line.steps.map(({ kind, after }) => ({ kind, after })),
        },
      }).unwrap();
      toast.success('The proof is kept. Findings say when it no longer comes out.');
      onClose();
    } catch {
      /* shown in the dialog */
    }
  };
  return (
    <Dialog open onClose={onClose} title="Keep this price as a proof">
      <div className="flex flex-col gap-3">
        <p className="text-faint">
          Reckon it by hand, or take it from the agreement: what stands here must come out, whatever is changed later.
        </p>
        <Field label="Name">
          <Input name="name" autoFocus value={name} onChange={(e) => setName(e.target.value)} />
        </Field>
        <Field label={`Price that must come out, ${found.figures.currency} per ${line.packName}`}>
          <NumberInput name="price" value={price} onValue={setPrice} />
        </Field>
        {problem ? (
          <Trouble>
            {problem.message} {faultWords(problem.faults)}
          </Trouble>
        ) : null}
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Cancel</Button>
          <Button
            weight="main"
            disabled={isLoading || name.trim() === '' || !/^\d+(\.\d+)?$/.test(price)}
            onClick={() => void keepIt()}
          >
            Keep the proof
          </Button>
        </div>
      </div>
    </Dialog>
  );
}
