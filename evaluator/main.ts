import { readFileSync } from 'node:fs';
import { evaluateFiles } from './evaluate-files.ts';

const USAGE = `bin/price WORKSPACE.json QUESTIONS.json [--build-up]
bin/price WORKSPACE.json [--build-up] < QUESTIONS.json

Answers questions about a workspace; see docs/evaluator.md. "-" reads a file from standard input.
Exit code: 0 all answered, 1 a question has no answer or a proof fails, 2 the input cannot be used.
`;

const args = process.argv.slice(2);
const files = args.filter((a) => !a.startsWith('--'));
const unknown = args.find((a) => a.startsWith('--') && a !== '--build-up' && a !== '--help');

if (args.includes('--help')) {
  process.stdout.write(USAGE);
} else if (unknown !== undefined || files.length === 0 || files.length > 2) {
  process.stderr.write(
    `${unknown === undefined ? 'One or two files are expected.' : `Unknown option ${unknown}.`}\n\n${USAGE}`,
  );
  process.exitCode = 2;
} else {
  const read = (name: string) => readFileSync(name === '-' ? 0 : name, 'utf8');
  const [workspace, questions = '-'] = files as [string, string?];
  const result = evaluateFiles({ workspace, questions }, read, { buildUp: args.includes('--build-up') });
  if (result.errors) process.stderr.write(result.errors);
  process.exitCode = result.code;
  if (result.answers) process.stdout.write(result.answers);
}
