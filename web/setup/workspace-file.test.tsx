import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import { Refusal, visit } from '../tests/visit.tsx';

const file = new File(['{}'], 'spring.json', { type: 'application/json' });
const difference = (more: object) => ({ day: '2026-03-09', faults: [], members: [], ...more });
const member = {
  member: 'items',
  added: 2,
  gone: 0,
  changed: 1,
  same: 300,
  examples: [{ name: 'BL-12', what: 'changed' }],
};

async function bring(answer: unknown): Promise<void> {
  const user = userEvent.setup();
  visit('/workspace-file?day=2026-03-01', { 'POST /workspace-file/difference': answer });
  await user.upload(await screen.findByLabelText('A workspace file'), file);
}

describe('a workspace file held against what is here', () => {
  it('says member by member what is only there, only here, or differs, and names the first', async () => {
    await bring(difference({ members: [member, { ...member, member: 'lists', added: 0, changed: 0, examples: [] }] }));
    const row = (await screen.findByRole('cell', { name: 'items' })).closest('tr')!;
    expect(row).toHaveTextContent('items201300BL-12 (differs)');
    // what is the same needs no line
    expect(screen.queryByRole('cell', { name: 'lists' })).toBeNull();
  });
  it('says so where nothing differs', async () => {
    await bring(difference({ members: [{ ...member, added: 0, changed: 0, examples: [] }] }));
    expect(await screen.findByText('spring.json holds exactly what is here.')).toBeInTheDocument();
  });
  it('names every fault of a file that is none, with its place', async () => {
    await bring(difference({ faults: [{ path: '$.items[4].rrp.taxIn', expected: 'true or false' }] }));
    expect(await screen.findByRole('alert')).toHaveTextContent('$.items[4].rrp.taxIn: must be true or false');
  });
  it('a refusal is told, and the file of the asked day can still be taken out', async () => {
    await bring(new Refusal(413, { code: 'too_large', message: 'The file is larger than 32 MB.' }));
    expect(await screen.findByText('The file is larger than 32 MB.')).toBeInTheDocument();
    const out = screen.getByRole('link', { name: 'Take the file out' });
    expect(out).toHaveAttribute('href', '/api/workspace-file?day=2026-03-01');
  });
});
