import { XMLParser } from 'fast-xml-parser';
import { UnreadableSheet } from '../costs/unreadable.ts';

/** An element that was read: its text, its attributes (with @), and the elements in it. */
export type Node = { readonly [name: string]: unknown };

/** Elements that may stand more than once where they are read: always lists. */
const LISTS = new Set(['CatalogueLine', 'InvoiceLine', 'AllowanceCharge', 'RequiredItemLocationQuantity', 'Note']);

const parser = new XMLParser({
  ignoreAttributes: false,
  attributeNamePrefix: '@',
  removeNSPrefix: true,
  // a number is what was written, digit for digit
  parseTagValue: false,
  parseAttributeValue: false,
  processEntities: true,
  isArray: (name) => LISTS.has(name),
});

export const isXml = (bytes: Buffer): boolean =>
  /^\s*<(\?xml|[A-Za-z])/.test(bytes.toString('latin1', 0, 200).replace(/^\xef\xbb\xbf/, ''));

/** Reads a document. Throws UnreadableSheet where it is damaged or declares entities, which could make more of it than there is. */
export function readXml(bytes: Buffer): { readonly name: string; readonly root: Node } {
  const text = bytes.toString('utf8').replace(/^\ufeff/, '');
  if (/<!(DOCTYPE|ENTITY)/i.test(text))
    throw new UnreadableSheet('it declares entities, which no business document does');
  let tree: Node;
  try {
    tree = parser.parse(text, true) as Node;
  } catch (error) {
    const { message } = error as Error;
    throw new UnreadableSheet(`it is damaged XML: ${message.split('\n')[0]!.slice(0, 120)}`);
  }
  const name = Object.keys(tree).find((k) => !k.startsWith('?') && !k.startsWith('#'));
  if (!name) throw new UnreadableSheet('it is an empty document');
  return { name, root: tree[name] as Node };
}

/** The element at a path, through lists by their first. */
export function at(node: unknown, ...path: readonly string[]): unknown {
  let here: unknown = node;
  for (const name of path) {
    if (Array.isArray(here)) here = here[0];
    if (here === null || typeof here !== 'object') return undefined;
    here = (here as Node)[name];
  }
  return here;
}

export const all = (node: unknown, name: string): readonly unknown[] => {
  const found = at(node, name);
  return found === undefined ? [] : Array.isArray(found) ? found : [found];
};

/** The text of an element; null: it is not there or empty. */
export function textAt(node: unknown, ...path: readonly string[]): string | null {
  let found = at(node, ...path);
  if (Array.isArray(found)) found = found[0];
  const text = typeof found === 'object' && found !== null ? (found as Node)['#text'] : found;
  return typeof text === 'string' && text.trim() !== '' ? text.trim() : null;
}

export const attributeAt = (node: unknown, attribute: string, ...path: readonly string[]): string | null => {
  const found = at(node, ...path);
  const value = found !== null && typeof found === 'object' ? (found as Node)[`@${attribute}`] : undefined;
  return typeof value === 'string' && value !== '' ? value : null;
};

const ESCAPED: Readonly<Record<string, string>> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' };
// what XML 1.0 cannot hold is left out
const escape = (text: string): string =>
  text.replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]/g, '').replace(/[&<>"]/g, (c) => ESCAPED[c]!);

/** An element to be written; `basic`: it holds a text. Null parts are left out. */
export type Element = readonly [
  name: string,
  content: string | readonly (Element | null)[],
  attributes?: Record<string, string>,
];

export function writeElement([name, content, attributes = {}]: Element): string {
  const prefix = typeof content === 'string' ? 'cbc' : 'cac';
  const inside =
    typeof content === 'string' ? escape(content) : content.map((e) => (e ? writeElement(e) : '')).join('');
  const said = Object.entries(attributes).map(([k, v]) => ` ${k}="${escape(v)}"`);
  return `<${prefix}:${name}${said.join('')}>${inside}</${prefix}:${name}>`;
}

/** A whole document of UBL 2.1. */
export const writeDocument = (name: 'Catalogue' | 'Invoice', parts: readonly (Element | null)[]): string =>
  `<?xml version="1.0" encoding="UTF-8"?>\n<${name} xmlns="urn:oasis:names:specification:ubl:schema:xsd:${name}-2" ` +
  `xmlns:cac="urn:oasis:names:specification:ubl:schema:xsd:CommonAggregateComponents-2" ` +
  `xmlns:cbc="urn:oasis:names:specification:ubl:schema:xsd:CommonBasicComponents-2">` +
  `${parts.map((e) => (e ? writeElement(e) : '')).join('\n')}</${name}>\n`;
