import { Dialog as RadixDialog } from 'radix-ui';
import type { ButtonHTMLAttributes, InputHTMLAttributes, ReactNode, Ref } from 'react';

type Weight = 'main' | 'plain' | 'stop';

const WEIGHTS: Record<Weight, string> = {
  main: 'bg-accent text-on-accent border-accent hover:opacity-90',
  plain: 'bg-transparent text-accent border-rule-strong hover:bg-chosen',
  stop: 'bg-transparent text-stop border-stop hover:bg-stop-ground',
};

export function Button({
  weight = 'plain',
  className = '',
  ...rest
}: ButtonHTMLAttributes<HTMLButtonElement> & { weight?: Weight; ref?: Ref<HTMLButtonElement> }) {
  return (
    <button
      type="button"
      {...rest}
      className={`border px-3 py-1 text-sm font-medium whitespace-nowrap disabled:opacity-45 ${WEIGHTS[weight]} ${className}`}
    />
  );
}

export function Field({
  label,
  hint,
  fault,
  children,
  className = '',
  group = false,
}: {
  label: string;
  hint?: ReactNode;
  fault?: string | undefined;
  children: ReactNode;
  className?: string;
  /** Stands over a control of several parts that carries the label itself. */
  group?: boolean;
}) {
  const Around = group ? 'div' : 'label';
  return (
    <Around className={`flex flex-col gap-0.5 ${className}`}>
      <span className="text-xs text-faint">{label}</span>
      {children}
      {hint && !fault ? <span className="text-xs text-faint">{hint}</span> : null}
      {fault ? (
        <span role="alert" className="text-xs text-stop">
          {fault}
        </span>
      ) : null}
    </Around>
  );
}

export function Input({
  invalid,
  className = '',
  ...rest
}: InputHTMLAttributes<HTMLInputElement> & { invalid?: boolean; ref?: Ref<HTMLInputElement> }) {
  return <input {...rest} aria-invalid={invalid || undefined} className={`field ${className}`} />;
}

/** A sheet laid over the page; Escape and a click beside it put it away. */
export function Dialog({
  open,
  onClose,
  title,
  children,
  wide = false,
}: {
  open: boolean;
  onClose: () => void;
  title: string;
  children: ReactNode;
  wide?: boolean;
}) {
  return (
    <RadixDialog.Root open={open} onOpenChange={(o) => !o && onClose()}>
      <RadixDialog.Portal>
        <RadixDialog.Overlay className="fixed inset-0 z-40 bg-ink/30" />
        <RadixDialog.Content
          aria-describedby={undefined}
          className={`fixed top-[8vh] left-1/2 z-50 max-h-[84vh] w-[calc(100vw-2rem)] -translate-x-1/2 scroll-pb-16 overflow-auto border border-rule-strong bg-sheet p-5 ${wide ? 'max-w-4xl' : 'max-w-xl'}`}
        >
          <RadixDialog.Title className="mb-3 border-b border-rule-strong pb-2 text-base font-semibold">
            {title}
          </RadixDialog.Title>
          {children}
        </RadixDialog.Content>
      </RadixDialog.Portal>
    </RadixDialog.Root>
  );
}

/** What belongs on a screen that has nothing yet, and the first step. */
export function Empty({ children, action }: { children: ReactNode; action?: ReactNode }) {
  return (
    <div className="m-6 max-w-prose border-l-2 border-rule-strong pl-4 text-faint">
      <div>{children}</div>
      {action ? <div className="mt-3">{action}</div> : null}
    </div>
  );
}

export function Trouble({ children, tone = 'stop' }: { children: ReactNode; tone?: 'stop' | 'warn' }) {
  return (
    <div
      role="alert"
      className={`border-l-4 px-3 py-2 ${tone === 'stop' ? 'border-stop bg-stop-ground text-stop' : 'border-warn bg-warn-ground text-warn'}`}
    >
      {children}
    </div>
  );
}

/** The head of a view: what it is, one line about it, and what can be done. */
export function ViewHead({ title, about, children }: { title: ReactNode; about?: ReactNode; children?: ReactNode }) {
  return (
    <header className="flex flex-wrap items-end gap-x-4 gap-y-2 border-b border-rule-strong px-5 pt-3 pb-2">
      <div className="min-w-0 flex-1 basis-60">
        <h1>{title}</h1>
        {about ? <p className="text-faint">{about}</p> : null}
      </div>
      <div className="flex flex-wrap items-center gap-2">{children}</div>
    </header>
  );
}
