import { useEffect, useMemo, useState } from 'react';
import { useSearchParams } from 'react-router';
import { addressOf, askAnything } from '../api.ts';
import { Button, Field, Input, Trouble, ViewHead } from '../kit/controls.tsx';

type Json = Readonly<Record<string, unknown>>;
interface Parameter {
  name: string;
  in: 'path' | 'query';
  description?: string;
}
interface Operation {
  readonly method: string;
  readonly path: string;
  readonly operationId: string;
  readonly summary: string;
  readonly description: string;
  readonly tags: readonly string[];
  /** What it makes stale: nothing, where it only reads. */
  readonly 'x-changes': readonly string[];
  readonly parameters?: readonly Parameter[];
  readonly requestBody?: { content: Record<string, { schema: Json }> };
  readonly responses: Record<string, { content?: Record<string, { schema: Json }> }>;
}
interface Description {
  paths: Record<string, Record<string, Omit<Operation, 'method' | 'path'>>>;
  components: { schemas: Record<string, Json> };
}

/** Every address of the API: what it needs, what it answers, and a try of it as oneself. */
export function ApiPage() {
  const [description, setDescription] = useState<Description | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [params, setParams] = useSearchParams();
  const [text, setText] = useState('');
  useEffect(() => {
    askAnything('GET', '/openapi.json').then(
      (a) => (a.status === 200 ? setDescription(a.body as Description) : setTrouble(`Answered with ${a.status}.`)),
      () => setTrouble('The server cannot be reached.'),
    );
  }, []);
  const operations = useMemo(
    () =>
      Object.entries(description?.paths ?? {}).flatMap(([path, byMethod]) =>
        Object.entries(byMethod).map(([method, o]): Operation => ({ ...o, method: method.toUpperCase(), path })),
      ),
    [description],
  );
  const shown = operations.filter((o) =>
    `${o.method} ${o.path} ${o.summary}`.toLowerCase().includes(text.toLowerCase()),
  );
  const open = operations.find((o) => o.operationId === params.get('of'));
  return (
    <>
      <ViewHead
        title="The API"
        about="Everything the screens do can be asked for by a program with an access key. Amounts are exact decimals as text."
      >
        <a href="/api/openapi.json" target="_blank" rel="noreferrer" className="text-accent underline">
          OpenAPI 3.1
        </a>
      </ViewHead>
      {trouble ? <Trouble>{trouble}</Trouble> : null}
      <div className="flex min-h-0 flex-1">
        <div className="flex w-[26rem] shrink-0 flex-col border-r border-rule">
          <div className="px-5 py-2">
            <Input
              aria-label="Find an address"
              placeholder="Find an address"
              className="w-full"
              value={text}
              onChange={(e) => setText(e.target.value)}
            />
          </div>
          <ul className="min-h-0 flex-1 overflow-auto pb-3">
            {shown.map((o) => (
              <li key={o.operationId}>
                <button
                  type="button"
                  aria-current={o === open ? 'page' : undefined}
                  className={`block w-full px-5 py-1 text-left ${o === open ? 'bg-chosen font-medium' : 'hover:bg-chosen'}`}
                  onClick={() => setParams({ of: o.operationId })}
                >
                  <span className="figure !text-left text-xs">
                    {o.method} {o.path}
                  </span>
                  <span className="block text-xs text-faint">{o.summary}</span>
                </button>
              </li>
            ))}
          </ul>
        </div>
        <div className="min-w-0 flex-1 overflow-auto px-5 py-3">
          {open && description ? (
            <Read key={open.operationId} of={open} schemas={description.components.schemas} />
          ) : (
            <p className="text-faint">Choose an address.</p>
          )}
        </div>
      </div>
    </>
  );
}

function Read({ of, schemas }: { of: Operation; schemas: Record<string, Json> }) {
  const body = Object.values(of.requestBody?.content ?? {})[0]?.schema;
  const answer = Object.entries(of.responses['200']?.content ?? {})[0];
  return (
    <>
      <h2 className="figure !text-left">
        {of.method} /api{of.path}
      </h2>
      <p>{of.summary}.</p>
      <p className="text-faint">{of.description}</p>
      <Try of={of} />
      {body ? (
        <>
          <h3 className="mt-3">What is sent</h3>
          <Schema of={body} />
        </>
      ) : null}
      <h3 className="mt-3">What is answered</h3>
      {answer?.[0] === 'application/json' ? <Schema of={resolved(answer[1].schema, schemas)} /> : <p>{answer?.[0]}</p>}
    </>
  );
}

/** A reference is followed one step, so that what it names can be read. */
function resolved(schema: Json, schemas: Record<string, Json>): Json {
  const named = (s: Json) => (typeof s['$ref'] === 'string' ? schemas[s['$ref'].split('/').at(-1)!] : undefined);
  const first = named(schema) ?? schema;
  const items = first['items'] as Json | undefined;
  const inside = items && named(items);
  return inside ? { ...first, items: inside } : (named(first) ?? first);
}

const Schema = ({ of }: { of: Json }) => (
  <pre tabIndex={0} className="max-h-96 overflow-auto border border-rule bg-sheet p-2 text-xs">
    {JSON.stringify(of, null, 1)}
  </pre>
);

/** Every field that can be sent, still empty. */
function startOf({ requestBody }: Operation): string {
  const schema = requestBody?.content['application/json']?.schema['properties'] as Record<string, Json> | undefined;
  return JSON.stringify(Object.fromEntries(Object.keys(schema ?? {}).map((name) => [name, null])), null, 1);
}

/** Asks it in one's own name, with what is typed. */
function Try({ of }: { of: Operation }) {
  const changes = of['x-changes'].length > 0;
  const sends = of.method !== 'GET';
  const [given, setGiven] = useState<Record<string, string>>({});
  const [body, setBody] = useState(() => startOf(of));
  const [answer, setAnswer] = useState<{ status: number; text: string } | null>(null);
  const params = of.parameters ?? [];
  const part = (where: Parameter['in']) =>
    Object.fromEntries(params.filter((p) => p.in === where).map((p) => [p.name, given[p.name] ?? '']));
  const send = async () => {
    const query = Object.fromEntries(Object.entries(part('query')).map(([k, v]) => [k, v === '' ? null : v]));
    const address = addressOf(of.path.replaceAll(/\{(\w+)\}/g, ':$1'), { params: part('path'), query });
    let sent: unknown;
    try {
      sent = sends ? JSON.parse(body) : undefined;
    } catch {
      return setAnswer({ status: 0, text: 'What is to be sent is no JSON.' });
    }
    try {
      const { status, body: got } = await askAnything(of.method, address, sent);
      setAnswer({ status, text: typeof got === 'string' ? got : JSON.stringify(got, null, 1) });
    } catch {
      setAnswer({ status: 0, text: 'The server cannot be reached.' });
    }
  };
  return (
    <form
      className="my-3 flex flex-col gap-2 border border-rule p-3"
      onSubmit={(e) => {
        e.preventDefault();
        void send();
      }}
    >
      {params.map((p) => (
        <Field key={p.name} label={p.name} hint={p.description} className="max-w-sm">
          <Input
            required={p.in === 'path'}
            value={given[p.name] ?? ''}
            onChange={(e) => setGiven({ ...given, [p.name]: e.target.value })}
          />
        </Field>
      ))}
      {of.requestBody ? (
        <Field label="What is sent, JSON">
          <textarea
            className="field figure !text-left"
            rows={6}
            value={body}
            onChange={(e) => setBody(e.target.value)}
          />
        </Field>
      ) : null}
      <div>
        <Button type="submit" weight={changes ? 'stop' : 'main'}>
          {changes ? 'Ask: it may change the books' : 'Ask'}
        </Button>
      </div>
      {answer ? (
        <div role="status">
          <p className="text-faint">{answer.status === 0 ? 'Nothing was asked' : `Status ${answer.status}`}</p>
          <pre tabIndex={0} className="max-h-80 overflow-auto bg-sheet p-2 text-xs">
            {answer.text.slice(0, 20_000)}
          </pre>
        </div>
      ) : null}
    </form>
  );
}
