/** What was chosen, with a way to take it away. */
export function Chosen({
  title,
  onDrop,
  label,
  focused = false,
}: {
  title: string;
  onDrop: () => void;
  label: string;
  /** It has just been chosen: whoever did goes on from here. */
  focused?: boolean;
}) {
  return (
    <span className="inline-flex items-center gap-2 self-start border border-rule px-2 py-0.5">
      {title}
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
