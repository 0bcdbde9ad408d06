import { Ajv2020 } from 'ajv/dist/2020.js';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { type Person, type Workshop, openWorkshop, signIn } from '../platform/tests/workshop.ts';

vi.mock('#contract/records/kinds.ts', async (original) => {
  const own = await original<typeof import('#contract/records/kinds.ts')>();
  const { PORTS } = await import('#contract/tests/ports.ts');
  const kinds = [...own.KINDS, PORTS];
  return {
    ...own,
    KINDS: kinds,
    MEMBERS: [...own.MEMBERS, 'ports'],
    kindNamed: (name: string) => kinds.find((k) => k.name === name),
  };
});

let shop: Workshop;
let admin: Person;
let seller: Person;
beforeAll(async () => {
  shop = await openWorkshop();
  admin = await signIn(shop.app, 'administrator');
  seller = await signIn(shop.app, 'seller');
});
afterAll(() => shop.close());

type Kept = { id: string; version: number } & Record<string, unknown>;

describe('a kind of record that is declared, and nothing else', () => {
  let port: Kept;
  let region: Kept;

  it('is kept, held to its declaration, and changed against the version that was seen', async () => {
    const north = { name: 'North', countries: ['NO'], currency: 'EUR', tax: 'charged' };
    region = (await admin.post('/regions', north)).body as Kept;
    const wrong = await admin.post('/ports', { name: 'Moss', region: '999', draught: '0' });
    expect([wrong.status, (wrong.body as { faults: { path: string }[] }).faults.map((f) => f.path)]).toEqual([
      422,
      ['draught'],
    ]);
    const nowhere = await admin.post('/ports', { name: 'Moss', region: '999' });
    expect((nowhere.body as { faults: object[] }).faults).toEqual([
      { path: 'region', message: 'must be the id of a known region' },
    ]);
    const made = await admin.post('/ports', { name: 'Moss', region: region.id, draught: '9.5' });
    port = made.body as Kept;
    expect(port).toMatchObject({ version: 1, name: 'Moss', draught: '9.5' });
    const { id, ...body } = port;
    port = (await admin.put(`/ports/${id}`, { ...body, draught: '10' })).body as Kept;
    expect(port.version).toBe(2);
    expect((await admin.put(`/ports/${id}`, body)).status).toBe(409);
    expect((await seller.get('/ports')).status).toBe(403);
    expect((await admin.get('/ports')).body).toEqual([port]);
  });

  it('keeps what it points to from being removed', async () => {
    const gone = await admin.delete(`/regions/${region.id}`, { version: region.version });
    expect([gone.status, (gone.body as { message: string }).message]).toEqual([409, expect.stringContaining('Moss')]);
  });

  it('is found by its name, and its changes stand in the record of changes', async () => {
    const found = (await admin.get('/records-found?register=ports&text=mos')).body as { id: string; name: string }[];
    expect(found).toMatchObject([{ id: port.id, name: 'Moss' }]);
    const anything = (await admin.get('/search?text=moss')).body as { title: string; to: string }[];
    expect(anything.map((f) => f.to)).toContain(`/setup/ports?open=${port.id}`);
    const audit = (await admin.get(`/audit?subject=ports&of=${port.id}`)).body as { action: string }[];
    expect(audit.map((a) => a.action)).toEqual(['changed', 'created']);
  });

  it('stands in the description of the API', async () => {
    const described = (await admin.get('/openapi.json')).body as {
      paths: Record<string, Record<string, { requestBody?: { content: Record<string, { schema: object }> } }>>;
    };
    expect(Object.keys(described.paths['/ports']!)).toEqual(['get', 'post']);
    expect(Object.keys(described.paths['/ports/{id}']!).sort()).toEqual(['delete', 'put']);
    const { schema } = described.paths['/ports']!['post']!.requestBody!.content['application/json']!;
    const fits = new Ajv2020({ strict: false }).compile(schema);
    expect([fits({ name: 'Moss', region: '1' }), fits({ name: 'Moss', region: '1', depth: 3 })]).toEqual([true, false]);
  });

  it('goes out with the workspace file, is part of its schema, and comes back from it', async () => {
    const { workspaceSchema } = await import('#contract/workspace-file/schema.ts');
    expect(Object.keys(workspaceSchema.properties)).toContain('ports');
    const file = (await admin.get('/workspace-file')).body as { ports: Kept[] };
    expect(file.ports).toMatchObject([{ name: 'Moss', region: region.id, draught: '10' }]);
    const wrong = { ...file, ports: [{ ...file.ports[0], draught: 'deep' }] };
    const held = (text: object) => admin.bytes('/workspace-file/difference', Buffer.from(JSON.stringify(text)));
    const { faults } = (await held(wrong)).body as { faults: { path: string }[] };
    expect(faults.map((f) => f.path)).toEqual(['$.ports[0].draught']);
    const more = { ...file, ports: [...file.ports, { ...file.ports[0], id: '77', name: 'Bodø' }] };
    const { members } = (await held(more)).body as { members: { member: string; added: number }[] };
    expect(members).toContainEqual(expect.objectContaining({ member: 'ports', added: 1 }));
  });

  it('takes the numbers of a database when it is loaded into one', async () => {
    const { renumbered } = await import('#contract/workspace-file/renumber.ts');
    const { emptyWorkspace } = await import('#core/workspace/sample.ts');
    const regions = [
      { id: 'north', version: 1, name: 'North', countries: [], currency: 'EUR', tax: 'charged' as const },
    ];
    const { ports: numbered } = renumbered({
      ...emptyWorkspace(),
      regions,
      ports: [{ id: 'moss', version: 1, name: 'Moss', region: 'north' }],
    } as never) as unknown as { ports: object[] };
    expect(numbered).toEqual([{ id: '2', version: 1, name: 'Moss', region: '1' }]);
  });
});
