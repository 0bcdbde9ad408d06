import type { LockstepGroup } from '#core/lockstep/group.ts';
import type { Register } from '../setup/register.ts';
import { today } from '../workspace/asked-day.ts';
import { keepLeadsValues, leaversOf } from './leave-lockstep.ts';

/** What leaving a group hangs on. */
export type Group = Pick<LockstepGroup, 'lead' | 'members' | 'name'>;

/** Lockstep groups: an item that leaves one keeps the lead's values. */
export function lockstepRegister(r: Register<Group>): Register<Group> {
  return {
    ...r,
    before: async (here, id, body) => {
      const [kept] = await r.read(here.tx, id);
      if (!kept) return;
      const leavers = leaversOf(kept, body);
      await keepLeadsValues(here, kept, leavers, await today(here.context));
    },
    forMoves: async (tx, id, body) => {
      const [kept] = await r.read(tx, id);
      if (!kept) return body;
      // who leaves keeps its prices, and so does the group of a lead that was a member
      const lead = kept.members.includes(body.lead) ? kept.lead : body.lead;
      const all = new Set([...kept.members, ...body.members, body.lead]);
      all.delete(lead);
      return { ...body, lead, members: [...all] };
    },
  };
}
