import { type ReactNode, useCallback, useState } from 'react';
import { useSignedIn } from '../people/use-me.ts';
import { type MakeNew, MakeNewContext } from '../records/record-picker.tsx';
import { RecordDialog } from './record-dialog.tsx';
import type { RegisterView } from './registers.ts';
import { VIEWS } from './views.ts';

/** Lets every field that finds a record make one that is not there yet, in its own form over what is being written. */
export function MakesNew({ children }: { children: ReactNode }) {
  const me = useSignedIn();
  const [making, setMaking] = useState<{ view: RegisterView; name: string; onMade: (id: string) => void } | null>(null);
  const offer: MakeNew = useCallback(
    (register) => {
      const view = VIEWS.find((v) => v.name === register);
      if (!view || view.single || !me.rights.has(view.changeRight)) return null;
      return { one: view.one, make: (name, onMade) => setMaking({ view, name, onMade }) };
    },
    [me.rights],
  );
  return (
    <MakeNewContext value={offer}>
      {children}
      {making ? (
        <RecordDialog
          view={making.view}
          row={null}
          proposed={{ name: making.name }}
          onKept={making.onMade}
          onClose={() => setMaking(null)}
        />
      ) : null}
    </MakeNewContext>
  );
}
