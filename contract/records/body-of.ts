import type { Fields } from './declare.ts';

type Maybe<F, V> = F extends { readonly optional: unknown } ? V | null : V;

/** What a declared field holds as it travels. */
export type ValueOf<F> = F extends { readonly type: 'yes' }
  ? boolean
  : F extends { readonly type: 'whole' }
    ? Maybe<F, number>
    : F extends { readonly type: 'texts' | 'decimals' | 'countries' | 'many' }
      ? string[]
      : F extends { readonly type: 'choice'; readonly options: infer O }
        ? Maybe<F, keyof O & string>
        : F extends { readonly type: 'rows'; readonly fields: infer R }
          ? BodyOf<R>[]
          : F extends { readonly type: 'text' | 'secret' | 'decimal' | 'day' | 'currency' | 'country' | 'one' }
            ? Maybe<F, string>
            : unknown;

/** A record without its id and version, by what is declared of it. */
export type BodyOf<F> = { -readonly [K in keyof F]: ValueOf<F[K]> };

/** The columns of a table in which such records stand: what points to others is a number there. */
export type ColumnsOf<F extends Fields> = {
  [K in keyof F]: F[K] extends { readonly type: 'one' } ? Maybe<F[K], number> : ValueOf<F[K]>;
};
