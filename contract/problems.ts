import { REASONS, type Reason, type ReasonCode, wording } from '#core/reasons.ts';

/** Every problem the server answers with: HTTP status and wording. Reasons of the core are worded in the core. */
export const PROBLEMS = {
  not_signed_in: { status: 401, text: 'Please sign in.' },
  wrong_sign_in: { status: 401, text: 'The sign-in name or the password is wrong.' },
  key_unknown: { status: 401, text: 'The access key is not known, or its last day has passed.' },
  only_signed_in: { status: 403, text: 'This is not done with an access key: sign in for it.' },
  too_many_tries: { status: 429, text: 'Too many tries. Wait {minutes} minutes and try again.' },
  right_missing: { status: 403, text: 'Your role may not do this: it needs the right to {right}.' },
  session_token_wrong: { status: 403, text: 'This page is out of date. Load it again and repeat what you did.' },
  not_found: { status: 404, text: '{what} {id} does not exist.' },
  fields_wrong: { status: 422, text: 'Some fields need another look.' },
  changed_meanwhile: {
    status: 409,
    text: '{what} was changed by {by} while you worked on it. Both versions are shown; nothing of yours is lost.',
  },
  prices_changed_meanwhile: {
    status: 409,
    text: 'Since you looked, {count} of these prices have changed: look at them again before you post.',
  },
  list_moved_on: {
    status: 409,
    text: 'Since you looked, something was changed that these prices are made from. They are shown as they are now: look at them again before you post.',
  },
  taken: { status: 409, text: '{what} exists already: {value}.' },
  names_nothing: { status: 422, text: 'It names something that does not exist, or no longer does: choose again.' },
  not_removed: { status: 422, text: '{what} cannot be removed.' },
  to_come_hindered: {
    status: 409,
    text: 'A change that is planned for {day} could then not be carried out: {why}. Drop it first, or plan it anew.',
  },
  to_come_waits: {
    status: 409,
    text: 'A change of {what} is planned for {day}: drop that first.',
  },
  to_come_moved_on: {
    status: 409,
    text: '{what} has other changes to come than you saw. Look at them again; nothing of yours is lost.',
  },
  in_use: { status: 409, text: '{what} is still used by {by}.' },
  too_large: { status: 413, text: 'The file is larger than {limit}. Split it and bring in the parts.' },
  body_unreadable: { status: 400, text: 'What was sent cannot be read.' },
  host_unknown: {
    status: 421,
    text: 'This server does not answer by this name. If it is yours, add it to HOST_NAMES and start the server again.',
  },
  address_unreadable: { status: 400, text: 'The address holds characters that cannot be read.' },
  request_wrong: { status: 400, text: 'The request cannot be understood: {why}.' },
  too_much: { status: 413, text: 'What was sent holds more than {limit} {what}. Send it in parts.' },
  value_impossible: { status: 422, text: 'A value is larger, longer or of another kind than can be kept.' },
  database_away: { status: 503, text: 'The database is away. Nothing is lost; try again in a moment.' },
  too_busy: { status: 503, text: 'There is too much to do at the moment. Try again in a minute.' },
  lockstep_apart: {
    status: 422,
    text: '{item} always has the price of {lead}, whose lockstep group it is in: this posting gives them two.',
  },
  request_decided: { status: 409, text: 'This posting waits no more: it was {state} by {by}.' },
  second_person_only: { status: 403, text: 'You asked for this posting yourself: somebody else has to agree to it.' },
  own_request_only: { status: 403, text: '{by} asked for this posting: only {by} can withdraw it. You can refuse it.' },
  request_waits: { status: 409, text: 'A posting of this worksheet waits for a second person already: request {id}.' },
  posting_unconfirmed: {
    status: 409,
    text: 'Nothing is posted yet: {what}. Confirm that this is intended.',
  },
  nothing_to_post: { status: 422, text: 'There is nothing to post.' },
  day_in_the_past: {
    status: 422,
    text: 'A posting cannot begin before today, {today}: days gone by stay as they were.',
  },
  held_lines: {
    status: 422,
    text: '{count} lines are held because a floor lies above a ceiling: decide their price first.',
  },
  already_reversed: { status: 409, text: 'Posting {id} has been reversed already, by posting {by}.' },
  is_a_reversal: { status: 422, text: 'Posting {id} is itself a reversal: post the prices anew instead.' },
  cannot_reverse: {
    status: 422,
    text: 'Posting {id} is no longer the last word on {prices}, changed since by {postings}. Reverse what came after it first, or reverse all prices but these.',
  },
  sheet_not_waiting: { status: 409, text: 'This cost sheet has been {state} already.' },
  item_without_supplier: { status: 409, text: 'The item has no supplier: choose one in its form.' },
  not_connected: { status: 409, text: 'The supplier is not connected, or its connection was stopped.' },
  supplier_trouble: { status: 424, text: 'The supplier’s service: {why}' },
  sheet_part_taken: {
    status: 409,
    text: 'Rows of this cost sheet have been taken in: take it back first, or take in and leave out the rest.',
  },
  row_taken_in: { status: 409, text: 'Row {row} has been taken in already: take the sheet back to change it.' },
  sheet_waits: { status: 409, text: 'This cost sheet waits already: there is nothing to take back.' },
  item_file_outdated: {
    status: 409,
    text: 'Item {item} was changed since the file was taken in: the file is not taken back. Change what is meant by hand.',
  },
  item_file_state: {
    status: 409,
    text: 'Items or rules were changed since the file was looked at: look at what it would change now.',
  },
  lockstep_cost: {
    status: 409,
    text: '{item} follows {lead} in lockstep: its cost is that of the group. Look at what it would change, and say that it is meant for all.',
  },
  sheet_being_taken: { status: 409, text: 'The sheet is being taken in. Wait for it, or stop it first.' },
  no_country_service: { status: 502, text: 'The country of an address could not be found out: {why}' },
  no_rate_service: { status: 409, text: 'No service of exchange rates is set up here.' },
  bill_final: { status: 409, text: 'This bill is final. Take it back before it is changed.' },
  bill_draft: { status: 409, text: 'This bill is a draft: there is nothing to take back.' },
  bill_looks_odd: {
    status: 409,
    text: '{count} of its costs look odd, {first} first. Look at them, and say that they are meant.',
  },
  sheet_unreadable: { status: 422, text: 'The file cannot be read as a table: {why}.' },
  rows_tie: {
    status: 422,
    text: 'Two rows of the uplift table are equally specific: {a} and {b}. Make one of them narrower.',
  },
  quote_not_draft: { status: 409, text: 'The quote is {state} and can no longer be changed. Copy it to go on.' },
  quote_incomplete: { status: 422, text: 'The quote has lines without a price.' },
  quote_refused: { status: 422, text: 'A floor refuses a line of this quote.' },
  quote_needs_approval: { status: 422, text: 'A floor is broken: the quote needs the approval of a second person.' },
  quote_figures_moved: {
    status: 409,
    text: 'Prices, costs or floors have moved since approval was asked: save the quote and ask again.',
  },
  quote_needs_none: { status: 422, text: 'The quote breaks no floor: it needs no approval.' },
  quote_not_waiting: { status: 409, text: 'The quote is not waiting for approval.' },
  own_quote: {
    status: 403,
    text: 'A quote is approved by another person than those who wrote it, changed it last, or asked for approval.',
  },
  quote_not_issued: { status: 409, text: 'The quote is {state}: only an issued quote is accepted.' },
  quote_not_accepted: {
    status: 409,
    text: 'The quote is {state}: only an accepted quote is changed by change orders.',
  },
  quote_terms_gone: {
    status: 409,
    text: 'What this quote was priced from was not kept, and today it comes to another sum: copy it and issue it anew.',
  },
  no_change_draft: { status: 409, text: 'There is no draft of a change order.' },
  change_refused: { status: 422, text: 'A floor or a rule refuses this change.' },
  change_needs_second: {
    status: 403,
    text: 'This change breaks a floor or a rule asks: it is issued by a second person who may approve.',
  },
  quote_expired: { status: 422, text: 'The quote was valid until {day}: give it a later day before it is issued.' },
  propose_in_the_past: {
    status: 422,
    text: 'Prices are proposed for today, {today}, or a day to come: days gone by stay as they were.',
  },
  not_tried_at_once: {
    status: 422,
    text: '{list} cannot be tried at once with this recipe: a worksheet computes its prices one by one.',
  },
  nothing_to_propose: { status: 422, text: 'No active price list has a recipe: give one to a list under Price lists.' },
  nothing_taken_in: { status: 409, text: 'No cost of this sheet has been taken in: there is nothing it would move.' },
  worksheet_not_a_draft: { status: 409, text: 'The worksheet is {state}: only a draft can be posted.' },
  worksheet_not_posted: { status: 409, text: 'The worksheet is {state}: only what was posted of it can be reversed.' },
  nothing_to_reverse: { status: 409, text: 'Nothing that was posted of it stands any more.' },
  worksheet_outdated: {
    status: 409,
    text: 'Something that prices are made from has changed since the worksheet was computed. Have it proposed anew, or post it as it was computed.',
  },
  worksheet_prices_moved: {
    status: 409,
    text: '{count} of the prices on {list} have been posted by others since: have the prices proposed anew.',
  },
  worksheet_day_gone: {
    status: 409,
    text: 'The worksheet is for {day}, which has gone by: have the prices proposed anew.',
  },
  worksheet_needs_list: {
    status: 409,
    text: '{list} is made from {parent}, whose changes on this worksheet are not posted: post them first, or together.',
  },
  worksheet_under_way: { status: 409, text: 'The worksheet is {state}: cancel that first, or wait for its end.' },
  no_such_file: { status: 404, text: 'There is nothing at this address.' },
  unexpected: { status: 500, text: 'Something went wrong on our side. It is logged under {id}.' },
} as const;

export type ProblemCode = keyof typeof PROBLEMS;

/** What travels when something is refused. `message` is ready to be read; `faults` name fields; `current` is the version in store. */
export interface Problem {
  code: ProblemCode | ReasonCode;
  message: string;
  params: Record<string, string>;
  faults?: { path: string; message: string }[];
  current?: unknown;
}

export function problem(
  code: ProblemCode,
  params: Record<string, string> = {},
  more: Pick<Problem, 'faults' | 'current'> = {},
): Problem {
  const message = PROBLEMS[code].text.replace(/\{(\w+)\}/g, (_, name: string) => params[name] ?? '?');
  return { code, message, params, ...more };
}

export function problemFromReason(reason: Reason): Problem {
  return { code: reason.code, message: wording(reason), params: { ...reason.params } };
}

export function statusOf(code: Problem['code']): number {
  return code in REASONS ? 422 : PROBLEMS[code as ProblemCode].status;
}
