import { type InferType, array, object } from 'yup';
import { idText, optional } from './fields.ts';

/** A group as it would be; `id`: as which one it is kept, null: it is new. */
export const lockstepPreviewBody = object({
  id: optional(idText()),
  lead: idText().required(),
  members: array(idText().required()).max(5000).required(),
}).noUnknown();
export type LockstepPreviewBody = InferType<typeof lockstepPreviewBody>;

interface Named {
  item: string;
  sku: string;
  name: string;
}

export interface LockstepPreview {
  lead: Named;
  /** Items that come in, with each of their values that gives way to the lead's. */
  joining: (Named & { differences: { value: string; where: string; own: string | null; lead: string | null }[] })[];
  /** Items that go, and what of the former lead stays theirs. */
  leaving: (Named & { from: string; costs: number; packs: string[]; prices: number })[];
  /** Costs the items have of their own, beside the lead's of the same supplier; per unit in the workspace's currency. */
  costs: (Named & {
    supplier: string;
    amount: string;
    currency: string;
    packUnits: string;
    from: string;
    unit: string | null;
    /** Against the lead's, per cent; null: it is the lead's, or cannot be compared. */
    changePercent: string | null;
    /** Far from the lead's, or for another pack. */
    odd: boolean;
  })[];
}
