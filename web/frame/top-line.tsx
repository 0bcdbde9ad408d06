import { DropdownMenu } from 'radix-ui';
import { useDispatch, useSelector } from 'react-redux';
import { useLocation, useNavigate } from 'react-router';
import { peopleApi } from '../people/endpoints.ts';
import { useRegister } from '../records/use-register.ts';
import { useSignedIn } from '../people/use-me.ts';
import type { State } from '../store.ts';
import { DateField } from '../kit/date-field.tsx';
import { FORMS, type NumberForm } from '../kit/number-form.ts';
import { Select } from '../kit/select.tsx';
import { ASIDE } from './places.ts';
import { preferences } from './preferences.ts';
import { useDay } from './day.ts';

/** Always true: which list, which day, who; and the one search. */
export function TopLine({ onSearch, onHelp }: { onSearch: () => void; onHelp: () => void }) {
  const me = useSignedIn();
  const { day, today, asked, setDay } = useDay();
  const { rows: lists } = useRegister('lists');
  const navigate = useNavigate();
  const { pathname, search } = useLocation();
  const current = /^\/lists\/(\d+)/.exec(pathname)?.[1] ?? '';
  return (
    <div className="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-rule-strong bg-paper px-5 py-1.5">
      <label className="flex items-center gap-2">
        <span className="text-xs text-faint">List</span>
        <Select
          className="w-48"
          value={current}
          onValue={(chosen) => chosen && void navigate({ pathname: `/lists/${chosen}`, search })}
          options={[
            ['', current ? '–' : 'open a list …'],
            ...lists.map((l) => [l.id, `${l.name} (${l.currency}, tax ${l.taxIn ? 'in' : 'out'})`] as const),
          ]}
        />
      </label>
      <span className="flex items-center gap-2">
        <span className="text-xs text-faint">Day</span>
        <DateField label="Day" whenLeft value={day} onValue={(d) => setDay(d || null)} />
      </span>
      {asked ? (
        <span className="flex items-center gap-2 bg-warn-ground px-2 py-0.5 text-warn" role="status">
          {asked < today ? 'as it was on that day' : 'as it will be on that day'}
          <button type="button" className="underline" onClick={() => setDay(null)}>
            back to today
          </button>
        </span>
      ) : null}
      <button
        type="button"
        onClick={onSearch}
        className="ml-auto flex min-w-44 items-center justify-between gap-6 border border-rule-strong bg-sheet px-2 py-1 text-left text-faint"
      >
        Find anything <kbd className="text-xs">Ctrl K</kbd>
      </button>
      <PersonMenu name={me.name} role={me.role} onHelp={onHelp} places={ASIDE.filter((p) => me.rights.has(p.right))} />
    </div>
  );
}

const item =
  'flex cursor-default items-center justify-between gap-6 px-3 py-1.5 outline-none data-[highlighted]:bg-chosen';

function PersonMenu({
  name,
  role,
  onHelp,
  places,
}: {
  name: string;
  role: string;
  onHelp: () => void;
  places: typeof ASIDE;
}) {
  const dispatch = useDispatch();
  const navigate = useNavigate();
  const { theme, form } = useSelector((s: State) => s.preferences);
  const [signOut] = peopleApi.useSignOutMutation();
  const leave = async () => {
    await signOut();
    location.assign('/');
  };
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger className="border border-transparent px-2 py-1 hover:border-rule-strong">
        {name} <span className="text-faint">· {role}</span>
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="end"
          sideOffset={4}
          className="z-40 min-w-56 border border-rule-strong bg-sheet py-1"
        >
          <DropdownMenu.Item
            className={item}
            onSelect={() => dispatch(preferences.actions.themeChosen(theme === 'dark' ? 'light' : 'dark'))}
          >
            {theme === 'dark' ? 'Light paper' : 'Dark paper'}
          </DropdownMenu.Item>
          {(Object.keys(FORMS) as NumberForm[]).map((f) => (
            <DropdownMenu.Item key={f} className={item} onSelect={() => dispatch(preferences.actions.formChosen(f))}>
              Numbers like <span className="figure">{FORMS[f].sample}</span> {f === form ? '✓' : ''}
            </DropdownMenu.Item>
          ))}
          <DropdownMenu.Item className={item} onSelect={onHelp}>
            Keys <kbd>?</kbd>
          </DropdownMenu.Item>
          {places.map(({ to, title }) => (
            <DropdownMenu.Item key={to} className={item} onSelect={() => void navigate(to)}>
              {title}
            </DropdownMenu.Item>
          ))}
          <DropdownMenu.Separator className="my-1 border-t border-rule" />
          <DropdownMenu.Item className={item} onSelect={() => void leave()}>
            Sign out
          </DropdownMenu.Item>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
