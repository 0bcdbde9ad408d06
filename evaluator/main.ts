import { once } from 'node:events';
import { readFileSync } from 'node:fs';
import { parseArgs } from 'node:util';
import { evaluate } from './evaluate-files.ts';

const USAGE = `bin/price WORKSPACE.json QUESTIONS.json [--build-up]
bin/price WORKSPACE.json [--build-up] < QUESTIONS.json
bin/price WORKSPACE.json QUESTIONS.json --against OTHER.json

Answers questions about a workspace; see docs/evaluator.md. "-" reads a file from standard input.
--against: says what the other workspace changes in the answers.
Exit code: 0 all answered, 1 a question has no answer or a proof fails, 2 the input cannot be used.
`;

function refuse(why: string): void {
  process.stderr.write(`${why}\n\n${USAGE}`);
  process.exitCode = 2;
}

async function main(): Promise<void> {
  const { values, positionals } = parseArgs({
    allowPositionals: true,
    options: { 'build-up': { type: 'boolean' }, against: { type: 'string' }, help: { type: 'boolean' } },
  });
  if (values.help) return void process.stdout.write(USAGE);
  if (positionals.length === 0 || positionals.length > 2) return refuse('One or two files are expected.');
  const [workspace, questions = '-'] = positionals as [string, string?];
  const read = (name: string) => readFileSync(name === '-' ? 0 : name, 'utf8');
  const names = { workspace, questions, against: values.against };
  const found = evaluate(names, read, { buildUp: values['build-up'] ?? false });
  if (!found.ok) {
    process.stderr.write(found.errors);
    process.exitCode = 2;
    return;
  }
  for (;;) {
    const next = found.pieces.next();
    if (next.done) return void (process.exitCode = next.value);
    if (!process.stdout.write(next.value)) await once(process.stdout, 'drain');
  }
}

// a reader that has seen enough (`| head`) is no failure
process.stdout.on('error', (error: NodeJS.ErrnoException) => process.exit(error.code === 'EPIPE' ? 0 : 2));

try {
  await main();
} catch (error) {
  if ((error as NodeJS.ErrnoException).code?.startsWith('ERR_PARSE_ARGS')) refuse((error as Error).message);
  else throw error;
}
