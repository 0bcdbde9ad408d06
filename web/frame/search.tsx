import { Command } from 'cmdk';
import { useDeferredValue, useMemo, useState } from 'react';
import { useNavigate } from 'react-router';
import { todayApi } from '../today/endpoints.ts';
import { useSignedIn } from '../people/use-me.ts';
import { ASIDE, PLACES } from './places.ts';
import { VIEWS } from '../setup/views.ts';

const ACTIONS = PLACES.flatMap((p) => p.actions ?? []);

const row = 'flex items-baseline justify-between gap-4 px-4 py-1.5 aria-selected:bg-chosen';

/** One search for items, lists, quotes, rules and actions. */
export function Search({
  open,
  onClose,
  places,
}: {
  open: boolean;
  onClose: () => void;
  /** Where this person may go. */
  places: readonly { to: string; title: string }[];
}) {
  const me = useSignedIn();
  const [text, setText] = useState('');
  const asked = useDeferredValue(text.trim());
  const { data: found = [] } = todayApi.useSearchQuery(asked, { skip: !open || asked === '' });
  const navigate = useNavigate();
  const go = (to: string) => {
    onClose();
    setText('');
    void navigate(to);
  };
  const actions = useMemo(() => {
    const registers = VIEWS.filter((v) => me.rights.has(v.right));
    const all = [
      ...ACTIONS.filter((a) => me.rights.has(a.right)),
      ...[...places, ...ASIDE.filter((p) => me.rights.has(p.right))].map((p) => ({
        title: `Go to ${p.title}`,
        to: p.to,
      })),
      ...registers.map((v) => ({ title: `Set up: ${v.title}`, to: `/setup/${v.name}` })),
      ...registers
        .filter((v) => me.rights.has(v.changeRight) && !v.single)
        .map((v) => ({ title: `New ${v.one}`, to: `/setup/${v.name}?open=new` })),
    ];
    const asked = text.trim().toLowerCase();
    // with nothing typed, what is done most
    return asked === ''
      ? all.slice(0, ACTIONS.length)
      : all.filter((a) => a.title.toLowerCase().includes(asked)).slice(0, 12);
  }, [me.rights, places, text]);
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
            <span className="text-xs text-faint">{f.kind === 'record' ? f.detail : `${f.kind} · ${f.detail}`}</span>
          </Command.Item>
        ))}
        {actions.map((a) => (
          <Command.Item key={a.title} value={a.title} onSelect={() => go(a.to)} className={row}>
            <span>{a.title}</span>
            <span className="text-xs text-faint">action</span>
          </Command.Item>
        ))}
      </Command.List>
    </Command.Dialog>
  );
}
