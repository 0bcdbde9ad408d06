import { threadOf } from '../place.ts';
import { OwnProcess } from '../process.ts';
import type { Asked, Told } from './own-process.ts';

// a server that is killed while its process works: says which process that is, and has it hang
const own = new OwnProcess<Asked, Told>(threadOf('server/platform/tests/own-process'));
process.stdout.write(`${(await own.run({ what: 'who' })).pid}\n`);
await own.run({ what: 'hang' });
