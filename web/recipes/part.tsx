import type { ReactNode } from 'react';

/** A part of a recipe, numbered in the order in which it is carried out. */
export function Part({
  number,
  title,
  aside,
  children,
}: {
  number: number;
  title: string;
  aside?: ReactNode;
  children: ReactNode;
}) {
  return (
    <section>
      <div className="mb-2 flex items-baseline gap-3 border-b border-rule-strong pb-1">
        <span className="figure text-faint">{number}</span>
        <h2 className="flex-1">{title}</h2>
        {aside}
      </div>
      {children}
    </section>
  );
}
