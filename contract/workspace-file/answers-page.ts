import { QUESTION_KINDS } from '#core/evaluator/questions.ts';
import { answersSchema } from './answers-schema.ts';

interface Described {
  readonly description?: string;
  readonly properties?: Readonly<Record<string, Described>>;
  readonly required?: readonly string[];
  readonly items?: Described;
  readonly anyOf?: readonly Described[];
}

/** Every field of the answers as a page: made from the schema. */
export function answersPage(): string {
  const out = [
    '# Answers, field by field',
    '',
    'Made from the code by `npm run doc-files`. "maybe": only where there is something to say.',
  ];
  for (const kind of QUESTION_KINDS) {
    out.push('', `## ${kind}`, '', '| field | meaning |', '|---|---|');
    const known = answersSchema.items.anyOf.find((s) => (s as Described).description === kind) as Described;
    rows(known, '', out);
  }
  return `${out.join('\n')}\n`;
}

function rows(of: Described, under: string, out: string[]): void {
  for (const [name, field] of Object.entries(of.properties ?? {})) {
    const path = under === '' ? name : `${under}.${name}`;
    const maybeWord = of.required?.includes(name) ? '' : 'maybe: ';
    if (name !== 'kind' || under !== '') out.push(`| ${path} | ${maybeWord}${field.description ?? ''} |`);
    // a state is a quote, a reason is always the same: said once
    if (name === 'state' || name === 'buildUp' || (name === 'reason' && under !== '')) continue;
    for (const inner of [field, field.items, ...(field.anyOf ?? []), ...(field.items?.anyOf ?? [])])
      if (inner?.properties) rows(inner, path, out);
  }
}
