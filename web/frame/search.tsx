import { Command } from 'cmdk';
import { useDeferredValue, useState } from 'react';
import { useNavigate } from 'react-router';
import { api } from '../api.ts';

const ACTIONS = [
  { title: 'Write a quote', to: '/quotes/new' },
  { title: 'Bring in a cost sheet', to: '/costs?bring=1' },
  { title: 'Check a price', to: '/price-check' },
  { title: 'Look into the ledger', to: '/ledger' },
] as const;

const row = 'flex items-baseline justify-between gap-4 px-4 py-1.5 aria-selected:bg-chosen';

/** One search for items, lists, quotes, rules and actions. */
export function Search({ open, onClose }: { open: boolean; onClose: () => void }) {
  const [text, setText] = useState('');
  const asked = useDeferredValue(text.trim());
  const { data: found = [] } = api.useSearchQuery(asked, { skip: !open || asked === '' });
  const navigate = useNavigate();
  const go = (to: string) => {
    onClose();
    setText('');
    void navigate(to);
  };
  const actions = ACTIONS.filter((a) => a.title.toLowerCase().includes(text.toLowerCase()));
  return (
    <Command.Dialog
      open={open}
      onOpenChange={(o) => !o && onClose()}
      shouldFilter={false}
      label="Find anything"
      overlayClassName="fixed inset-0 z-40 bg-ink/30"
      contentClassName="fixed top-[12vh] left-1/2 z-50 w-[36rem] max-w-[calc(100vw-2rem)] -translate-x-1/2 border border-rule-strong bg-sheet"
    >
      <Command.Input
        value={text}
        onValueChange={setText}
        placeholder="An item, a list, a quote, a recipe, or what you want to do"
        className="w-full border-b border-rule-strong bg-transparent px-4 py-2.5 outline-none"
      />
      <Command.List className="max-h-[50vh] overflow-auto py-1">
        {asked !== '' && found.length === 0 && actions.length === 0 ? (
          <div className="px-4 py-3 text-faint">Nothing has “{asked}” in its name or code.</div>
        ) : null}
        {found.map((f) => (
          <Command.Item key={`${f.kind}${f.id}`} value={`${f.kind} ${f.id}`} onSelect={() => go(f.to)} className={row}>
            <span>{f.title}</span>
            <span className="text-xs text-faint">
              {f.kind} · {f.detail}
            </span>
          </Command.Item>
        ))}
        {actions.map((a) => (
          <Command.Item key={a.to} value={a.title} onSelect={() => go(a.to)} className={row}>
            <span>{a.title}</span>
            <span className="text-xs text-faint">action</span>
          </Command.Item>
        ))}
      </Command.List>
    </Command.Dialog>
  );
}
