/**
 * Which posting lines may be in force on a day, as SQL on `posting_lines l`; of those that are left, the one with the
 * latest `effective`, then the highest `id`, is. A price with a last day ends after it; a typed one holds until then against
 * what was posted before it. The same rule as `Prepared.postedOn` in the core; a test holds the two together.
 */
export function mayBeInForce(day: string): string {
  if (!/^\d{4}-\d{2}-\d{2}$/.test(day)) throw new Error(`not a day: ${day}`);
  const lasts = (of: string) => `(${of}.last_day is null or ${of}.last_day >= '${day}')`;
  return `l.effective <= '${day}' and ${lasts('l')} and not exists (
    select 1 from posting_lines held
    where held.list_id = l.list_id and held.item_id = l.item_id and held.pack_id = l.pack_id and held.hand_set_reason is not null
      and held.effective <= '${day}' and ${lasts('held')} and held.id > l.id)`;
}

/**
 * Whether a posting line put back that nothing had been posted, as SQL on `posting_lines`: such a price is as if it had never
 * been posted. Any other line without a price takes the item off its list.
 */
export const undone = (line: string): string =>
  `(${line}.after is null and ${line}.made_by is null and exists (select 1 from postings r where r.id = ${line}.posting_id and r.reverses_id is not null))`;
