import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { emptyWorkspace } from '../workspace/sample.ts';
import type { Item } from './item.ts';
import { type AttributeTerms, alikeValues, descriptionFaults, readValue, sameness } from './described.ts';

const length: AttributeTerms = { id: '1', version: 1, name: 'length', kind: 'number', unit: 'm' };
const colour: AttributeTerms = { id: '2', version: 1, name: 'colour', kind: 'choice', values: ['navy', 'signal red'] };
const item = (id: string, attributes: Record<string, string>, brand: string | null = null): Item => ({
  id,
  sku: id.toUpperCase(),
  name: id,
  unit: 'each',
  category: 'all',
  brand,
  taxClass: 'std',
  attributes,
  packs: [{ id: `${id}-1`, name: 'each', units: '1' }],
});

describe('a value of an attribute', () => {
  it.each([
    ['8', length, '8'],
    [' 8.0 M', length, '8'],
    ['8,5m', length, '8.5'],
    ['eight', length, null],
    ['Navy ', colour, 'navy'],
    ['signalred', colour, 'signal red'],
    ['teal', colour, null],
  ])('“%s” is read as it was declared', (text, terms, read) => expect(readValue(terms, text)).toBe(read));
  it('is the same whatever its case and space, and however often it is read', () => {
    fc.assert(
      fc.property(fc.constantFrom(...colour.values!), fc.array(fc.constantFrom(' ', '\t')), (value, spaces) => {
        const typed = [...value.toUpperCase()].join(spaces.join(''));
        expect(readValue(colour, typed)).toBe(value);
      }),
    );
    fc.assert(
      fc.property(fc.integer({ min: -9999, max: 9999 }), fc.nat(3), (n, zeros) => {
        const read = readValue(length, `${n}.${'0'.repeat(zeros + 1)} m`)!;
        expect([read, readValue(length, read)]).toEqual([String(n), String(n)]);
      }),
    );
  });
  it('numbers that differ are not meant as one', () => expect(sameness('8', 'm')).not.toBe(sameness('80', 'm')));
});

describe('items that say what nobody declared', () => {
  const declared = {
    ...emptyWorkspace(),
    attributes: [length, colour],
    brands: [{ id: '3', version: 1, name: 'Kelwick' }],
  };
  it('are told what is meant', () => {
    const faults = descriptionFaults(
      declared,
      item('a', { length: '8 m', colours: 'navy', colour: 'teal' }, 'kelwick'),
    );
    expect(faults).toEqual([
      { at: 'brand', value: 'kelwick', near: 'Kelwick', why: 'value_not_declared' },
      { at: 'attributes.length', value: '8 m', near: '8', why: 'not_a_number' },
      { at: 'attributes.colours', value: 'colours', near: 'colour', why: 'name_not_declared' },
      { at: 'attributes.colour', value: 'teal', near: null, why: 'value_not_declared' },
    ]);
  });
  it('may say anything where nothing is declared', () =>
    expect(descriptionFaults(emptyWorkspace(), item('a', { any: 'thing' }, 'Any'))).toEqual([]));
});

describe('values that are meant as one', () => {
  it('are found by attribute, the most usual way first, with the items that say it otherwise', () => {
    const items = [item('a', { colour: 'navy' }), item('b', { colour: 'navy' }), item('c', { colour: 'Navy' })];
    expect(alikeValues({ items, attributes: [] })).toEqual([
      {
        of: 'colour',
        ways: [
          { value: 'navy', items: ['a', 'b'] },
          { value: 'Navy', items: ['c'] },
        ],
      },
    ]);
  });
  it('a unit in the text counts as such only where the attribute has it', () => {
    const items = [item('a', { length: '8' }), item('b', { length: '8 m' })];
    expect(alikeValues({ items, attributes: [] })).toEqual([]);
    expect(alikeValues({ items, attributes: [length] })).toHaveLength(1);
  });
});
