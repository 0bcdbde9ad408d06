import { screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import { Refusal, visit } from '../tests/visit.tsx';

const answer = (schema: object) => ({ responses: { '200': { content: { 'application/json': { schema } } } } });
const description = {
  paths: {
    '/lists/{id}/prices': {
      get: {
        operationId: 'getListPrices',
        summary: 'Every price of a list',
        description: 'Needs the right to read.',
        tags: ['lists'],
        'x-changes': [],
        parameters: [
          { name: 'id', in: 'path' },
          { name: 'day', in: 'query', description: 'the day asked about' },
        ],
        ...answer({ $ref: '#/components/schemas/list_prices' }),
      },
    },
    '/groups': {
      post: {
        operationId: 'postGroups',
        summary: 'Adds a group',
        description: '',
        tags: ['groups'],
        'x-changes': ['rules'],
        requestBody: { content: { 'application/json': { schema: { properties: { name: { type: 'string' } } } } } },
        ...answer({}),
      },
    },
  },
  components: { schemas: { list_prices: { type: 'object', description: 'what comes back' } } },
};

describe('the API read and tried', () => {
  it('fills an address with what is typed, leaves out what is empty, and shows what came', async () => {
    const user = userEvent.setup();
    visit('/api-description', { 'GET /openapi.json': description, 'GET /lists/4/prices': { rows: 12 } });
    await user.click(await screen.findByRole('button', { name: /lists\/\{id\}\/prices/ }));
    expect(screen.getByText(/what comes back/)).toBeInTheDocument();
    await user.type(screen.getByLabelText('id'), '4');
    await user.click(screen.getByRole('button', { name: 'Ask' }));
    expect(await screen.findByText('Status 200')).toBeInTheDocument();
    expect(screen.getByText(/"rows": 12/)).toBeInTheDocument();
  });
  it('warns before what changes something, begins with its fields, and shows a refusal as it came', async () => {
    const user = userEvent.setup();
    const sent = visit('/api-description?of=postGroups', {
      'GET /openapi.json': description,
      'POST /groups': new Refusal(422, { code: 'fields_wrong', message: 'Some fields need another look.' }),
    });
    const body = await screen.findByLabelText('What is sent, JSON');
    expect(JSON.parse((body as HTMLTextAreaElement).value)).toEqual({ name: null });
    await user.clear(body);
    await user.type(body, 'no json');
    await user.click(screen.getByRole('button', { name: 'Ask: it may change the books' }));
    expect(await screen.findByText('What is to be sent is no JSON.')).toBeInTheDocument();
    expect(sent).toEqual([]);
    await user.clear(body);
    await user.type(body, '{{"name":"x"}');
    await user.click(screen.getByRole('button', { name: 'Ask: it may change the books' }));
    expect(await screen.findByText('Status 422')).toBeInTheDocument();
    await waitFor(() => expect(sent).toMatchObject([{ method: 'POST', path: '/groups', body: { name: 'x' } }]));
  });
  it('an address is found by what it does', async () => {
    const user = userEvent.setup();
    visit('/api-description', { 'GET /openapi.json': description });
    await user.type(await screen.findByLabelText('Find an address'), 'adds');
    expect(screen.queryByRole('button', { name: /prices/ })).toBeNull();
    expect(screen.getByRole('button', { name: /Adds a group/ })).toBeInTheDocument();
  });
});
