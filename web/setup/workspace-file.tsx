import { useState } from 'react';
import { workspaceRoutes } from '#contract/api/workspace.ts';
import type { Answers } from '#contract/api/answers.ts';
import type { Problem } from '#contract/problems.ts';
import { addressOf, problemOf, sendBytes } from '../api.ts';
import { useDay } from '../frame/day.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { Trouble, ViewHead } from '../kit/controls.tsx';
import { showDay } from '../kit/number-form.ts';

type Difference = Answers['file_difference'];
const WHAT = { added: 'only in the file', gone: 'only here', changed: 'differs' } as const;

/** The whole workspace out as a file; and a file held against what is here, before anything is done with it. */
export function WorkspaceFile() {
  const form = useNumberForm();
  const { day, asked } = useDay();
  const [found, setFound] = useState<(Difference & { name: string }) | null>(null);
  const [problem, setProblem] = useState<Problem | null>(null);
  const [busy, setBusy] = useState(false);
  const query = { day: asked };
  const compare = async (file: File) => {
    setBusy(true);
    setFound(null);
    setProblem(null);
    try {
      const answer = await sendBytes<Difference>(addressOf(workspaceRoutes.compare.path, { query }), file);
      setFound({ ...answer, name: file.name });
    } catch (error) {
      setProblem(problemOf(error));
    }
    setBusy(false);
  };
  const differing = found?.members.filter((m) => m.added + m.gone + m.changed > 0) ?? [];
  return (
    <>
      <ViewHead
        title="The workspace as a file"
        about={`Items, costs, rules, lists and posted prices as they are on ${showDay(day, form)}, in one file that bin/price reads.`}
      >
        <a
          href={`/api${addressOf(workspaceRoutes.file.path, { query })}`}
          download
          className="border border-accent bg-accent px-3 py-1 font-medium text-on-accent"
        >
          Take the file out
        </a>
      </ViewHead>
      <div className="min-h-0 flex-1 overflow-auto px-5 py-3">
        <h2>Hold a file against what is here</h2>
        <p className="text-faint">
          Nothing is changed by this: it shows what is in the file and not here, and the other way round.
        </p>
        <input
          type="file"
          aria-label="A workspace file"
          accept=".json,application/json"
          className="my-3 block"
          disabled={busy}
          onChange={(e) => e.target.files?.[0] && void compare(e.target.files[0])}
        />
        {busy ? <p role="status">Reading the file …</p> : null}
        {problem ? <Trouble>{problem.message}</Trouble> : null}
        {found && found.faults.length > 0 ? (
          <Trouble>
            <p>{found.name} is no workspace file that can be read:</p>
            {found.faults.map((f) => (
              <div key={f.path}>
                <span className="figure">{f.path}</span>: must be {f.expected}
              </div>
            ))}
          </Trouble>
        ) : null}
        {found && found.faults.length === 0 ? (
          <>
            <p role="status" className="mb-2">
              {differing.length === 0 ? `${found.name} holds exactly what is here.` : `${found.name} differs:`}
            </p>
            {differing.length > 0 ? (
              <table className="ruled w-full max-w-4xl">
                <thead>
                  <tr>
                    <th>What</th>
                    <th className="figure">only in the file</th>
                    <th className="figure">only here</th>
                    <th className="figure">differ</th>
                    <th className="figure">same</th>
                    <th>The first of them</th>
                  </tr>
                </thead>
                <tbody>
                  {differing.map((m) => (
                    <tr key={m.member}>
                      <td>{m.member}</td>
                      <td className="figure">{m.added}</td>
                      <td className="figure">{m.gone}</td>
                      <td className="figure">{m.changed}</td>
                      <td className="figure">{m.same}</td>
                      <td className="text-xs">{m.examples.map((e) => `${e.name} (${WHAT[e.what]})`).join(', ')}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            ) : null}
          </>
        ) : null}
      </div>
    </>
  );
}
