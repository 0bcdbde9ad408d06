import { Link } from 'react-router';

/** The records of a view at its left, one of them open. */
export function SideList({
  label,
  to,
  records,
  open,
}: {
  label: string;
  to: string;
  records: readonly { id: string; name: string }[];
  open: string | undefined;
}) {
  return (
    <nav aria-label={label} className="w-48 shrink-0 overflow-auto border-r border-rule py-2">
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
  );
}
