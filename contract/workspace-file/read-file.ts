import type { ErrorObject, ValidateFunction } from 'ajv';
import { type JSONPath, visit } from 'jsonc-parser';

/** Why a file cannot be used: where (as a JSON path), what stands there, and what was expected. */
export interface FileFault {
  readonly path: string;
  /** What stands there, as JSON, cut short; null: nothing does. */
  readonly value: string | null;
  readonly expected: string;
}

export type ReadFile<T> =
  | { readonly ok: true; readonly value: T }
  | {
      readonly ok: false;
      readonly faults: readonly FileFault[];
      /** What was read, with what does not fit still in it; absent: it is no JSON. */
      readonly misfit?: unknown;
    };

const MOST_FAULTS = 20;

export function shortJson(value: unknown): string | null {
  const text = JSON.stringify(value) as string | undefined;
  if (text === undefined) return null;
  return text.length > 80 ? `${text.slice(0, 77)}...` : text;
}

/** Reads JSON text of a shape. Fields that are absent get what the shape says; unknown ones are refused. */
export function readShape<T>(validator: () => ValidateFunction): (text: string) => ReadFile<T> {
  return (text) => {
    const validate = validator() as ValidateFunction<T>;
    let value: unknown;
    try {
      value = JSON.parse(text);
    } catch (error) {
      return { ok: false, faults: [notJson(text, error as Error)] };
    }
    const twice = namedTwice(text);
    if (twice.length > 0) return { ok: false, faults: twice };
    if (validate(value)) return { ok: true, value };
    return { ok: false, faults: faultsFrom(validate.errors ?? []), misfit: value };
  };
}

/** Fields that one object names twice: of these the last would count without a word. */
function namedTwice(text: string): FileFault[] {
  const faults: FileFault[] = [];
  const open: Set<string>[] = [];
  visit(text, {
    onObjectBegin: () => void open.push(new Set()),
    onObjectEnd: () => void open.pop(),
    onObjectProperty: (name, offset, _length, line, character, pathOf) => {
      const names = open.at(-1)!;
      if (names.has(name) && faults.length < MOST_FAULTS)
        faults.push({
          path: pathText([...pathOf(), name]),
          value: shortText(text, offset),
          expected: `named once in its row; it is named again in line ${line + 1}, column ${character + 1}`,
        });
      names.add(name);
    },
  });
  return faults;
}

const pathText = (path: JSONPath): string => jsonPath(path.map((part) => `/${String(part)}`).join(''));

/** What stands at a place of a file, up to the end of its line. */
const shortText = (text: string, offset: number): string => text.slice(offset, offset + 40).split('\n')[0]!;

function notJson(text: string, error: Error): FileFault {
  const at = /position (\d+)/.exec(error.message)?.[1];
  const before = at === undefined ? null : text.slice(0, Number(at));
  const where =
    before === null ? '' : ` (line ${before.split('\n').length}, column ${before.length - before.lastIndexOf('\n')})`;
  return { path: '$', value: null, expected: `JSON${where}: ${error.message.replace(/ in JSON at position.*/, '')}` };
}

/** "/items/3/packs" → "$.items[3].packs". */
function jsonPath(pointer: string): string {
  return pointer
    .split('/')
    .slice(1)
    .reduce((path, part) => {
      const key = part.replaceAll('~1', '/').replaceAll('~0', '~');
      return path + (/^\d+$/.test(key) ? `[${key}]` : /^[A-Za-z_]\w*$/.test(key) ? `.${key}` : `["${key}"]`);
    }, '$');
}

/** Of everything that does not fit, what a person can act on: the deepest, without what only follows from it. */
function faultsFrom(errors: readonly ErrorObject[]): FileFault[] {
  const telling = errors.filter((e) => !['anyOf', 'oneOf', 'if', 'not'].includes(e.keyword));
  const deepest = telling.filter(
    (e) => !telling.some((other) => other.instancePath.startsWith(`${e.instancePath}/`) && isTypeOnly(e)),
  );
  const faults = new Map<string, FileFault>();
  for (const e of deepest.length > 0 ? deepest : errors) {
    const fault = faultFrom(e);
    if (!faults.has(fault.path)) faults.set(fault.path, fault);
  }
  return [...faults.values()].slice(0, MOST_FAULTS);
}

/** "must be null" beside a fault inside of the object. */
const isTypeOnly = (e: ErrorObject): boolean => e.keyword === 'type';

function faultFrom(e: ErrorObject): FileFault {
  const path = jsonPath(e.instancePath);
  const schema = e.parentSchema as { description?: string; properties?: Record<string, { description?: string }> };
  switch (e.keyword) {
    case 'additionalProperties': {
      const field = String(e.params['additionalProperty']);
      const known = Object.keys(schema.properties ?? {});
      return {
        path: jsonPath(`${e.instancePath}/${field}`),
        value: shortJson((e.data as Record<string, unknown>)[field]),
        expected: `no such field; known here are ${known.join(', ')}`,
      };
    }
    case 'required': {
      const field = String(e.params['missingProperty']);
      return {
        path: jsonPath(`${e.instancePath}/${field}`),
        value: null,
        expected: schema.properties?.[field]?.description ?? 'a value',
      };
    }
    case 'discriminator': {
      const shapes =
        (e.parentSchema as { oneOf?: { properties: { kind: { const?: string; enum?: string[] } } }[] }).oneOf ?? [];
      const kinds = shapes.flatMap((s) => s.properties.kind.enum ?? [s.properties.kind.const ?? '']);
      return {
        path: jsonPath(`${e.instancePath}/kind`),
        value: shortJson((e.data as Record<string, unknown>)['kind']),
        expected: `one of ${kinds.map((k) => `"${k}"`).join(', ')}`,
      };
    }
    default:
      return { path, value: shortJson(e.data), expected: schema.description ?? e.message ?? 'something else' };
  }
}
