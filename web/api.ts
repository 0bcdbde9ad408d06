import { type BaseQueryFn, createApi } from '@reduxjs/toolkit/query/react';
import type { Problem } from '#contract/problems.ts';
import type { CorrectRowsBody, SheetMatch, SheetSummary, SheetView, TypedCostBody } from '#contract/costs.ts';
import type { ItemChange, ItemRow } from '#contract/items.ts';
import type {
  ListAudience,
  AuditRow,
  BuildUp,
  ListPrices,
  PostingLine,
  PostingSummary,
  Reversal,
  ReverseBody,
} from '#contract/lists.ts';
import type { OwnPasswordBody, OwnSession, SessionInfo } from '#contract/people.ts';
import type { PriceCheck, PriceCheckBody, QuoteBody, QuoteFigures, QuoteSummary, QuoteView } from '#contract/quotes.ts';
import type { LadderBody, RecipeBody } from '#contract/recipes.ts';
import type { ListBody, Recorded, RegisterName } from '#contract/setup.ts';
import type { Findings } from '#contract/findings.ts';
import type { Found, Waiting } from '#contract/today.ts';
import type { ProposeBody, Worksheet, WorksheetPrices, WorksheetShows } from '#contract/worksheets.ts';

interface Ask {
  url: string;
  method?: 'GET' | 'POST' | 'PUT' | 'DELETE';
  body?: unknown;
  /** Sent as it is, not as JSON. */
  bytes?: Blob;
}

let token = '';

/** Every answer is JSON; every refusal is a problem. A connection that fails becomes one too. */
const ask: BaseQueryFn<string | Ask, unknown, Problem> = async (what, { signal }) => {
  const { url, method = 'GET', body, bytes } = typeof what === 'string' ? { url: what } : what;
  try {
    const response = await fetch(`/api${url}`, {
      method,
      signal,
      credentials: 'same-origin',
      headers: {
        ...(method === 'GET' ? {} : { 'x-session-token': token }),
        ...(body === undefined ? {} : { 'content-type': 'application/json' }),
        ...(bytes ? { 'content-type': 'application/octet-stream' } : {}),
      },
      ...(bytes ? { body: bytes } : body === undefined ? {} : { body: JSON.stringify(body) }),
    });
    const answer: unknown = await response.json();
    if (!response.ok) return { error: answer as Problem };
    if (url === '/session' && typeof answer === 'object' && answer && 'token' in answer) token = String(answer.token);
    return { data: answer };
  } catch {
    return {
      error: {
        code: 'unexpected',
        message: 'The server cannot be reached. What you typed is still here: try again in a moment.',
        params: {},
      },
    };
  }
};

/** An answer that is no JSON. Throws the problem where it is refused. */
export async function fetchBytes(url: string, body: unknown): Promise<ArrayBuffer> {
  const response = await fetch(`/api${url}`, {
    method: 'POST',
    credentials: 'same-origin',
    headers: { 'x-session-token': token, 'content-type': 'application/json' },
    body: JSON.stringify(body),
  });
  if (!response.ok) throw (await response.json()) as Problem;
  return response.arrayBuffer();
}

const withDay = (url: string, day: string | null) => (day ? `${url}${url.includes('?') ? '&' : '?'}day=${day}` : url);

export const api = createApi({
  baseQuery: ask,
  tagTypes: ['Session', 'Sessions', 'Everything', 'Sheets', 'Quotes', 'Registers', 'Worksheets'],
  refetchOnMountOrArgChange: 20,
  endpoints: (b) => ({
    session: b.query<SessionInfo, void>({ query: () => '/session', providesTags: ['Session'] }),
    signIn: b.mutation<unknown, { signIn: string; password: string }>({
      query: (body) => ({ url: '/session', method: 'POST', body }),
      invalidatesTags: (_, error) =>
        error ? [] : ['Session', 'Everything', 'Sheets', 'Quotes', 'Registers', 'Worksheets'],
    }),
    signOut: b.mutation<unknown, void>({ query: () => ({ url: '/session', method: 'DELETE' }) }),
    changePassword: b.mutation<{ ended: number }, OwnPasswordBody>({
      query: (body) => ({ url: '/me/password', method: 'PUT', body }),
      invalidatesTags: ['Sessions'],
    }),
    sessions: b.query<OwnSession[], void>({ query: () => '/me/sessions', providesTags: ['Sessions'] }),
    endSession: b.mutation<unknown, string>({
      query: (id) => ({ url: `/me/sessions/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Sessions'],
    }),
    today: b.query<Waiting[], void>({ query: () => '/today', providesTags: ['Everything', 'Sheets', 'Quotes'] }),
    search: b.query<Found[], string>({ query: (text) => `/search?text=${encodeURIComponent(text)}` }),
    items: b.query<ItemRow[], string | null>({ query: (day) => withDay('/items', day), providesTags: ['Everything'] }),
    changeItems: b.mutation<{ items: number }, ItemChange[]>({
      query: (changes) => ({ url: '/items/changes', method: 'POST', body: { changes } }),
      invalidatesTags: ['Everything'],
    }),
    itemCosts: b.query<
      {
        id: string;
        supplierName: string;
        amount: string;
        currency: string;
        packUnits: string;
        validFrom: string;
        origin: string;
        released: boolean;
        takenBack: boolean;
        enteredBy: string;
        enteredAt: string;
      }[],
      string
    >({ query: (id) => `/items/${id}/costs`, providesTags: ['Everything'] }),
    releaseCost: b.mutation<unknown, { id: string; released: boolean }>({
      query: ({ id, released }) => ({ url: `/costs/${id}/release`, method: 'POST', body: { released } }),
      invalidatesTags: ['Everything'],
    }),
    typeCost: b.mutation<unknown, TypedCostBody>({
      query: (body) => ({ url: '/costs', method: 'POST', body }),
      invalidatesTags: ['Everything'],
    }),
    sheets: b.query<SheetSummary[], void>({ query: () => '/cost-sheets', providesTags: ['Sheets'] }),
    sheet: b.query<SheetView, string>({ query: (id) => `/cost-sheets/${id}`, providesTags: ['Sheets', 'Everything'] }),
    bringSheet: b.mutation<{ id: string }, { supplier: string; file: File }>({
      query: ({ supplier, file }) => ({
        url: `/cost-sheets?supplier=${supplier}&file=${encodeURIComponent(file.name)}`,
        method: 'POST',
        bytes: file,
      }),
      invalidatesTags: ['Sheets'],
    }),
    matchSheet: b.mutation<SheetView, { id: string; version: number; match: SheetMatch }>({
      query: ({ id, ...body }) => ({ url: `/cost-sheets/${id}/match`, method: 'PUT', body }),
      invalidatesTags: ['Sheets'],
    }),
    takeIn: b.mutation<
      { costs: number; newItems: number; leftOut: number },
      { id: string; version: number; leaveOutFaulty: boolean }
    >({
      query: ({ id, ...body }) => ({ url: `/cost-sheets/${id}/take-in`, method: 'POST', body }),
      invalidatesTags: ['Sheets', 'Everything'],
    }),
    correctRows: b.mutation<SheetView, { id: string } & CorrectRowsBody>({
      query: ({ id, ...body }) => ({ url: `/cost-sheets/${id}/rows`, method: 'PUT', body }),
      invalidatesTags: ['Sheets'],
    }),
    takeBackSheet: b.mutation<{ costs: number }, { id: string; version: number }>({
      query: ({ id, ...body }) => ({ url: `/cost-sheets/${id}/take-back`, method: 'POST', body }),
      invalidatesTags: ['Sheets', 'Everything'],
    }),
    setAsideSheet: b.mutation<unknown, { id: string; version: number }>({
      query: ({ id, ...body }) => ({ url: `/cost-sheets/${id}/set-aside`, method: 'POST', body }),
      invalidatesTags: ['Sheets'],
    }),
    listAudience: b.query<ListAudience, { id: string; body: ListBody }>({
      query: ({ id, body }) => ({ url: `/lists/${id}/audience`, method: 'POST', body }),
      providesTags: ['Everything'],
    }),
    listPrices: b.query<ListPrices, { list: string; day: string | null }>({
      query: ({ list, day }) => withDay(`/lists/${list}/prices`, day),
      providesTags: ['Everything'],
    }),
    buildUp: b.query<BuildUp, { list: string; item: string; pack: string; day: string | null }>({
      query: ({ list, item, pack, day }) => withDay(`/lists/${list}/build-up/${item}/${pack}`, day),
      providesTags: ['Everything'],
    }),
    post: b.mutation<
      { posting: string; lines: number },
      {
        list: string;
        effective: string;
        reason: string;
        lines: {
          item: string;
          pack: string;
          before: string | null;
          after: string;
          release?: boolean;
          handSet: { reason: string; lastDay: string | null } | null;
        }[];
      }
    >({
      query: ({ list, ...body }) => ({ url: `/lists/${list}/postings`, method: 'POST', body }),
      invalidatesTags: ['Everything'],
    }),
    findings: b.query<Findings, void>({ query: () => '/findings', providesTags: ['Everything'] }),
    worksheets: b.query<Worksheet[], void>({ query: () => '/worksheets', providesTags: ['Worksheets'] }),
    worksheet: b.query<Worksheet, string>({ query: (id) => `/worksheets/${id}`, providesTags: ['Worksheets'] }),
    worksheetPrices: b.query<WorksheetPrices, { id: string; list: string; shows: WorksheetShows; from: number }>({
      query: ({ id, list, shows, from }) => `/worksheets/${id}/lists/${list}/prices?shows=${shows}&from=${from}`,
    }),
    propose: b.mutation<Worksheet, ProposeBody>({
      query: (body) => ({ url: '/worksheets', method: 'POST', body }),
      invalidatesTags: (_, error) => (error ? [] : ['Worksheets']),
    }),
    cancelWorksheet: b.mutation<Worksheet, string>({
      query: (id) => ({ url: `/worksheets/${id}/cancel`, method: 'POST', body: {} }),
      invalidatesTags: ['Worksheets'],
    }),
    discardWorksheet: b.mutation<unknown, string>({
      query: (id) => ({ url: `/worksheets/${id}`, method: 'DELETE', body: {} }),
      invalidatesTags: (_, error) => (error ? [] : ['Worksheets']),
    }),
    postings: b.query<PostingSummary[], void>({ query: () => '/postings', providesTags: ['Everything'] }),
    posting: b.query<PostingSummary & { detail: PostingLine[] }, string>({
      query: (id) => `/postings/${id}`,
      providesTags: ['Everything'],
    }),
    reversal: b.query<Reversal, string>({
      query: (id) => `/postings/${id}/reversal`,
      providesTags: ['Everything'],
    }),
    reverse: b.mutation<{ posting: string; lines: number }, { id: string } & ReverseBody>({
      query: ({ id, ...body }) => ({ url: `/postings/${id}/reverse`, method: 'POST', body }),
      invalidatesTags: ['Everything'],
    }),
    audit: b.query<AuditRow[], void>({
      query: () => '/audit',
      providesTags: ['Everything', 'Registers', 'Quotes', 'Sheets'],
    }),
    recipes: b.query<Recorded<RecipeBody>[], void>({ query: () => '/recipes', providesTags: ['Registers'] }),
    ladders: b.query<Recorded<LadderBody>[], void>({ query: () => '/ladders', providesTags: ['Registers'] }),
    register: b.query<Recorded<Record<string, unknown>>[], RegisterName | 'people' | 'settings'>({
      query: (name) => `/${name}`,
      providesTags: ['Registers'],
    }),
    record: b.mutation<Recorded<Record<string, unknown>>, { register: string; id: string | null; body: object }>({
      query: ({ register, id, body }) =>
        id === null
          ? { url: `/${register}`, method: 'POST', body }
          : { url: `/${register}/${id}`, method: 'PUT', body },
      invalidatesTags: (_, error) => (error ? [] : ['Registers', 'Everything']),
    }),
    removeRecord: b.mutation<unknown, { register: string; id: string; version: number }>({
      query: ({ register, id, version }) => ({ url: `/${register}/${id}`, method: 'DELETE', body: { version } }),
      invalidatesTags: ['Registers', 'Everything'],
    }),
    quotes: b.query<QuoteSummary[], void>({ query: () => '/quotes', providesTags: ['Quotes'] }),
    quote: b.query<QuoteView, string>({ query: (id) => `/quotes/${id}`, providesTags: ['Quotes', 'Everything'] }),
    tryQuote: b.query<{ list: string; figures: QuoteFigures }, QuoteBody>({
      query: (body) => ({ url: '/quotes/figures', method: 'POST', body }),
      providesTags: ['Everything'],
    }),
    saveQuote: b.mutation<QuoteView, { id: string | null; version: number; body: QuoteBody }>({
      query: ({ id, version, body }) =>
        id === null
          ? { url: '/quotes', method: 'POST', body }
          : { url: `/quotes/${id}`, method: 'PUT', body: { ...body, version } },
      // where somebody was faster, theirs is read at once
      invalidatesTags: (_, error) => (error && (error as Problem).code !== 'changed_meanwhile' ? [] : ['Quotes']),
    }),
    advanceQuote: b.mutation<QuoteView, { id: string; version: number; action: 'ask' | 'issue' }>({
      query: ({ id, version, action }) => ({ url: `/quotes/${id}/${action}`, method: 'POST', body: { version } }),
      invalidatesTags: ['Quotes'],
    }),
    decideQuote: b.mutation<
      QuoteView,
      { id: string; version: number; decision: 'approved' | 'declined'; note: string }
    >({
      query: ({ id, ...body }) => ({ url: `/quotes/${id}/decide`, method: 'POST', body }),
      invalidatesTags: ['Quotes'],
    }),
    priceCheck: b.query<PriceCheck, PriceCheckBody>({
      query: (body) => ({ url: '/price-check', method: 'POST', body }),
      providesTags: ['Everything'],
    }),
  }),
});

/** What an error says, whatever threw it. */
export function problemOf(error: unknown): Problem {
  if (typeof error === 'object' && error && 'message' in error) return error as Problem;
  return { code: 'unexpected', message: 'Something went wrong.', params: {} };
}
