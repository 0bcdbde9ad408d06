import type { ComponentType } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { Button, Empty, ViewHead } from './controls.tsx';

/** The form at the right side, of a record that is open or of a new one (no id). */
interface Detail<B> {
  readonly id: string | null;
  readonly version: number;
  readonly start: B;
  readonly editable: boolean;
  readonly onKept: (id: string) => void;
}

const STAYS = () => undefined;

/**
 * A view of records: all at the left by their names, one of them open beside them. The address names it (`to`/:id, `new`
 * for one that is being made).
 */
export function MasterDetail<R extends { readonly id: string; readonly version: number; readonly name: string }, B>({
  title,
  about,
  one,
  to,
  records,
  loading,
  mayMake,
  none,
  form: Form,
  startOf,
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
  form: ComponentType<Detail<B>>;
  /** What the form begins with; null: of a new record. */
  startOf: (record: R | null) => B;
}) {
  const { id: open } = useParams();
  const navigate = useNavigate();
  const chosen = records.find((r) => r.id === open) ?? null;
  const made = (id: string) => void navigate(`${to}/${id}`);
  const making = open === 'new' && mayMake;
  const record = making ? null : chosen;
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
          {making || chosen ? (
            <Form
              key={record?.id ?? 'new'}
              id={record?.id ?? null}
              version={record?.version ?? 0}
              start={startOf(record)}
              editable={mayMake}
              onKept={record ? STAYS : made}
            />
          ) : (
            !loading && <Empty>{records.length === 0 ? none : `Choose a ${one} at the left.`}</Empty>
          )}
        </div>
      </div>
    </>
  );
}
