/** What was chosen, with a way to take it away. */
export function Chosen({
  title,
  onDrop,
  label,
  focused = false,
  className = '',
}: {
  title: string;
  onDrop: () => void;
  label: string;
  /** It has just been chosen: whoever did goes on from here. */
  focused?: boolean;
  className?: string | undefined;
}) {
  return (
    <span
      className={`inline-flex max-w-full items-center gap-2 self-start border border-rule px-2 py-0.5 ${className}`}
    >
      <span className="min-w-0 truncate" title={title}>
        {title}
      </span>
      <button
        type="button"
        aria-label={`Take away ${title}, ${label}`}
        className="text-accent [fieldset:disabled_&]:hidden"
        autoFocus={focused}
        onClick={onDrop}
      >
        ×
      </button>
    </span>
  );
}
