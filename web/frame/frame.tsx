import { Settings } from 'lucide-react';
import { type ReactNode, useEffect, useState } from 'react';
import { NavLink, useLocation, useSearchParams } from 'react-router';
import { Toaster } from 'sonner';
import { useSignedIn } from '../people/use-me.ts';
import { PLACES } from './places.ts';
import { Search } from './search.tsx';
import { Shortcuts } from './shortcuts.tsx';
import { TopLine } from './top-line.tsx';

const inField = (target: EventTarget | null) =>
  target instanceof HTMLElement &&
  (target.matches('input,textarea,select,[contenteditable]') || target.getAttribute('role') === 'grid');

export function Frame({ children }: { children: ReactNode }) {
  const me = useSignedIn();
  const [params] = useSearchParams();
  const { pathname } = useLocation();
  const [searching, setSearching] = useState(false);
  const [help, setHelp] = useState(false);
  const day = params.get('day');
  const places = PLACES.filter((p) => me.rights.has(p.right));

  useEffect(() => {
    const keys = (e: KeyboardEvent) => {
      if ((e.ctrlKey || e.metaKey) && e.key.toLowerCase() === 'k') {
        e.preventDefault();
        setSearching(true);
      } else if (!e.ctrlKey && !e.metaKey && !e.altKey && !inField(e.target)) {
        if (e.key === '?') setHelp(true);
        else if (e.key === '/') {
          e.preventDefault();
          setSearching(true);
        }
      } else if (e.altKey && !e.ctrlKey && !e.metaKey) {
        const place = PLACES.find((p) => p.key === e.key.toLowerCase());
        const link = place && document.querySelector<HTMLAnchorElement>(`nav a[data-place="${place.to}"]`);
        if (link) {
          e.preventDefault();
          link.click();
          link.focus();
        }
      }
    };
    addEventListener('keydown', keys);
    return () => removeEventListener('keydown', keys);
  }, []);

  return (
    <div className="grid h-full grid-cols-[auto_minmax(0,1fr)] grid-rows-[auto_minmax(0,1fr)]">
      <a href="#main" className="sr-only focus:not-sr-only focus:absolute focus:z-50 focus:bg-sheet focus:p-2">
        To the content
      </a>
      <nav
        aria-label="Places"
        className="row-span-2 flex w-[8.75rem] flex-col overflow-y-auto border-r border-rule-strong bg-paper"
      >
        <div className="mx-3 mt-3 mb-4 border-b border-ink pb-1 font-semibold">Hard Ledger</div>
        {places.map(({ to, title, Icon, key }) => (
          <NavLink
            key={to}
            data-place={to}
            to={{ pathname: to, search: day ? `?day=${day}` : '' }}
            title={`Alt+${key.toUpperCase()}`}
            className={({ isActive }) =>
              `flex items-center gap-2 px-3 py-1.5 ${isActive ? 'border-l-[3px] border-accent bg-chosen pl-[9px] font-medium' : 'hover:bg-chosen'}`
            }
          >
            <Icon size={16} strokeWidth={1.6} aria-hidden />
            {title}
          </NavLink>
        ))}
        <div className="flex-1" />
        {me.rights.has('edit_rules') || me.rights.has('see_cost') ? (
          <NavLink
            to="/setup"
            className={`flex items-center gap-2 border-t border-rule px-3 py-2 hover:bg-chosen ${pathname.startsWith('/setup') ? 'bg-chosen font-medium' : ''}`}
          >
            <Settings size={16} strokeWidth={1.6} aria-hidden />
            Setup
          </NavLink>
        ) : null}
      </nav>
      <TopLine onSearch={() => setSearching(true)} onHelp={() => setHelp(true)} />
      <main id="main" className="flex min-h-0 min-w-0 flex-col overflow-y-auto" tabIndex={-1}>
        {children}
      </main>
      <Search open={searching} onClose={() => setSearching(false)} places={places} />
      <Shortcuts open={help} onClose={() => setHelp(false)} places={places} />
      <Toaster
        position="bottom-left"
        toastOptions={{
          style: {
            borderRadius: 0,
            background: 'var(--sheet)',
            color: 'var(--ink)',
            border: '1px solid var(--rule-strong)',
          },
        }}
      />
    </div>
  );
}
