import { screen } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { visit } from '../tests/visit.tsx';

const line = { kind: 'price_changes', count: 3, text: 'Counter: 3 posted prices differ', to: '/lists/1?show=changed' };

describe('Today', () => {
  it('says as of when the lists were counted, and leads each line to where it is settled', async () => {
    visit('/today', { 'GET /today': { lines: [line], at: '2026-03-09T08:30:00.000Z', stale: false } });
    expect(await screen.findByRole('link', { name: line.text })).toHaveAttribute('href', line.to);
    expect(screen.getByText(/Lists counted .*2026/)).toBeInTheDocument();
  });
  it('shows what was counted last while it is counted again, and asks until that is done', async () => {
    let asked = 0;
    visit('/today', {
      'GET /today': () => ({
        lines: asked++ === 0 ? [line] : [{ ...line, text: 'Counter: 2 posted prices differ' }],
        at: '2026-03-09T08:30:00.000Z',
        stale: asked === 1,
      }),
    });
    expect(await screen.findByRole('link', { name: line.text })).toBeInTheDocument();
    expect(screen.getByText(/something has changed since/)).toBeInTheDocument();
    expect(await screen.findByRole('link', { name: /2 posted prices differ/ }, { timeout: 5000 })).toBeInTheDocument();
    expect(screen.queryByText(/something has changed since/)).toBeNull();
  });
  it('nothing waits only once the lists have been counted', async () => {
    visit('/today', { 'GET /today': { lines: [], at: null, stale: true } });
    expect(await screen.findByText(/The lists are being counted/)).toBeInTheDocument();
    expect(screen.queryByText(/Nothing waits/)).toBeNull();
  });
  it('says how old what is read may be, where it is read from a copy of the database', async () => {
    visit('/today', {
      'GET /today': { lines: [line], at: null, stale: false },
      'GET /replica': { state: 'behind', secondsBehind: 4.25 },
    });
    expect(await screen.findByText(/a copy of the database, 4\.\d s behind/)).toBeInTheDocument();
  });
  it('and nothing of it where there is none', async () => {
    visit('/today', {
      'GET /today': { lines: [line], at: null, stale: false },
      'GET /replica': { state: 'none', secondsBehind: null },
    });
    expect(await screen.findByRole('link', { name: line.text })).toBeInTheDocument();
    expect(screen.queryByText(/copy of the database/)).toBeNull();
  });
});
