import type { ReactNode } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { Button, Empty, ViewHead } from './controls.tsx';

/** What the right side is drawn of: a record that is open, or a new one. `go`: opens the record once it is made. */
export interface Detail<R> {
  readonly record: R | null;
  readonly made: (id: string) => void;
}

/**
 * A view of records: all at the left by their names, one of them open beside them. The address names it (`to`/:id, `new`
 * for one that is being made).
 */
export function MasterDetail<R extends { readonly id: string; readonly name: string }>({
  title,
  about,
  one,
  to,
  records,
  loading,
  mayMake,
  none,
  draw,
}: {
  title: string;
  about: string;
  /** What a single one is called: "recipe". */
  one: string;
  to: string;
  records: readonly R[];
  loading: boolean;
  mayMake: boolean;
  /** What is said where there is none yet. */
  none: string;
  draw: (detail: Detail<R>) => ReactNode;
}) {
  const { id: open } = useParams();
  const navigate = useNavigate();
  const chosen = records.find((r) => r.id === open) ?? null;
  const made = (id: string) => void navigate(`${to}/${id}`);
  const making = open === 'new' && mayMake;
  return (
    <>
      <ViewHead title={title} about={about}>
        {mayMake ? <Button onClick={() => void navigate(`${to}/new`)}>New {one}</Button> : null}
      </ViewHead>
      <div className="flex min-h-0 flex-1">
        <nav aria-label={title} className="w-48 shrink-0 overflow-auto border-r border-rule py-2">
          {records.map((r) => (
            <Link
              key={r.id}
              to={`${to}/${r.id}`}
              aria-current={r.id === open ? 'page' : undefined}
              className={`block px-5 py-1.5 ${r.id === open ? 'border-l-[3px] border-accent bg-chosen pl-[17px] font-medium' : 'hover:bg-chosen'}`}
            >
              {r.name}
            </Link>
          ))}
        </nav>
        <div className="min-w-0 flex-1 scroll-pb-20 overflow-auto">
          {making || chosen
            ? draw({ record: making ? null : chosen, made })
            : !loading && <Empty>{records.length === 0 ? none : `Choose a ${one} at the left.`}</Empty>}
        </div>
      </div>
    </>
  );
}
