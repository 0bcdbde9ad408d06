import { useState } from 'react';
import { Link, useParams } from 'react-router';
import { KIND_NAMES, type RowShow } from '#contract/cost-rows.ts';
import { CHANGE_KINDS, type SheetView } from '#contract/costs.ts';
import { problemOf } from '../api.ts';
import { type Moment, useMoment } from '../frame/moments.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { Button, Trouble, ViewHead } from '../kit/controls.tsx';
import { type NumberForm, show } from '../kit/number-form.ts';
import { counted } from '../kit/words.ts';
import { useSignedIn } from '../people/use-me.ts';
import { costsApi } from './endpoints.ts';
import { SheetChanges } from './sheet-changes.tsx';
import { ProposeMoved } from './propose-moved.tsx';
import { TakeBack, TakeIn, TurnDown } from './sheet-dialogs.tsx';
import { SheetIntake } from './sheet-intake.tsx';
import { SheetMoves } from './sheet-effect.tsx';
import { SheetGone } from './sheet-gone.tsx';
import { SheetMatchForm } from './sheet-match.tsx';
import { SheetRows } from './sheet-rows.tsx';

/** One supplier's file: how it is read, what cannot be read, and what taking it in would change. */
export function CostSheet() {
  const { id = '' } = useParams();
  const { data: sheet, error, isFetching } = costsApi.useSheetQuery(id);
  if (error) return <Trouble>{problemOf(error).message}</Trouble>;
  if (!sheet) return <p className="p-6 text-faint">Reading the sheet …</p>;
  return <SheetBody key={sheet.id} sheet={sheet} reading={isFetching} />;
}

type Part = 'changes' | 'match' | 'faults' | 'moves' | 'gone';

function stateWords(sheet: SheetView, form: NumberForm, moment: Moment): string {
  const at = sheet.takenInAt ? ` ${moment(sheet.takenInAt)}` : '';
  switch (sheet.state) {
    case 'waiting':
      return '';
    case 'part_taken':
      return ` · ${show(String(sheet.counts.taken), form)} taken in${at}, the rest waits`;
    case 'taken_in':
      return ` · taken in${sheet.byItself ? ' by itself' : ''}${at}`;
    case 'set_aside':
      return ` · turned down: ${sheet.reason ?? ''}`;
  }
}

/** How the sheet stands beside the supplier's last one. */
function Layout({ sheet: { layout, match } }: { sheet: SheetView }) {
  const moment = useMoment();
  const { like, gone, fresh, rewritten } = layout;
  if (!like) return null;
  const last = (
    <Link className="text-accent underline underline-offset-2" to={`/costs/${like.id}`}>
      {like.fileName}, {moment(like.arrivedAt).split(' ')[0]}
    </Link>
  );
  if (gone.length + fresh.length === 0 && !rewritten && match.headerRows > 0)
    return <p className="px-5 py-1 text-faint">Laid out as {last}, and read in the same way.</p>;
  return (
    <div className="px-5 py-1">
      <Trouble tone="warn">
        Laid out otherwise than {last}:{gone.length > 0 ? ` without ${gone.map((h) => `“${h}”`).join(', ')};` : ''}
        {fresh.length > 0 ? ` with ${fresh.map((h) => `“${h}”`).join(', ')};` : ''}
        {rewritten ? ' numbers or days are written otherwise;' : ''} look at how it is read.
      </Trouble>
    </div>
  );
}

function SheetBody({
  sheet,
  reading,
}: {
  sheet: SheetView;
  /** It is being read anew: what is decided now would be decided of what was. */
  reading: boolean;
}) {
  const me = useSignedIn();
  const form = useNumberForm();
  const moment = useMoment();
  const open = sheet.state === 'waiting' || sheet.state === 'part_taken';
  const mayTake = me.rights.has('take_costs') && open;
  const { data: intake } = costsApi.useSheetIntakeQuery(sheet.id);
  // while it is being taken in nothing else is decided of it
  const may = mayTake && !(intake?.intake && intake.intake.trouble === null);
  const [part, setPart] = useState<Part>(
    sheet.counts.up + sheet.counts.down + sheet.counts.new + sheet.counts.unchanged > 0 ? 'changes' : 'match',
  );
  const [kind, setKind] = useState<RowShow | null>(null);
  const [asking, setAsking] = useState(false);
  const { currentData: effect, error: effectError } = costsApi.useSheetEffectQuery(sheet.id, { skip: !open });
  const single = sheet.said.count;
  const chip = (value: RowShow, title: string, count: number) => (
    <button
      key={value}
      type="button"
      aria-pressed={part === 'changes' && kind === value}
      disabled={count === 0 && kind !== value}
      onClick={() => (setKind(value), setPart('changes'))}
      className={`border-b-2 px-1.5 py-1 disabled:text-faint ${part === 'changes' && kind === value ? 'border-accent font-medium' : 'border-transparent'} ${value === 'flagged' && count > 0 ? 'text-warn' : ''}`}
    >
      <span className="figure">{show(String(count), form)}</span> {title}
    </button>
  );
  const tab = (value: Part, tone: string, words: React.ReactNode) => (
    <button
      type="button"
      aria-pressed={part === value}
      onClick={() => setPart(value)}
      className={`border-b-2 px-1.5 py-1 ${tone} ${part === value ? 'border-accent font-medium' : 'border-transparent'}`}
    >
      {words}
    </button>
  );
  return (
    <>
      <ViewHead
        title={sheet.fileName}
        about={
          <>
            {sheet.supplierName} · {show(String(sheet.rowCount), form)} {sheet.rowCount === 1 ? 'row' : 'rows'} ·
            brought by {sheet.broughtBy}
            {stateWords(sheet, form, moment)} ·{' '}
            <a className="text-accent underline underline-offset-2" href={`/api/cost-sheets/${sheet.id}/file`} download>
              the file as it came
            </a>
          </>
        }
      >
        {may && sheet.state === 'waiting' ? <TurnDown sheet={sheet} /> : null}
        {me.rights.has('take_costs') && sheet.state !== 'waiting' ? <TakeBack sheet={sheet} /> : null}
        {me.rights.has('post') && sheet.takenFrom !== null ? (
          <ProposeMoved
            cameWith={{ costSheet: sheet.id }}
            reason={`New costs of ${sheet.supplierName}`}
            from={[sheet.takenFrom]}
            weight={sheet.state === 'taken_in' ? 'main' : 'plain'}
          />
        ) : null}
        {may ? (
          <Button weight="main" disabled={reading} onClick={() => setAsking(true)}>
            Take in …
          </Button>
        ) : null}
      </ViewHead>
      <div className="flex flex-wrap items-center gap-0.5 border-b border-rule px-4">
        <button
          type="button"
          aria-pressed={part === 'changes' && kind === null}
          onClick={() => (setKind(null), setPart('changes'))}
          className={`border-b-2 px-1.5 py-1 ${part === 'changes' && kind === null ? 'border-accent font-medium' : 'border-transparent'}`}
        >
          all
        </button>
        {CHANGE_KINDS.filter((k) => sheet.counts[k] > 0).map((k) =>
          chip(k, KIND_NAMES[k].replace(/^cost /, ''), sheet.counts[k]),
        )}
        {chip('flagged', 'need a look', sheet.counts.suspicious)}
        {tab(
          'faults',
          sheet.counts.faulty > 0 ? 'text-stop' : 'text-faint',
          <>
            <span className="figure">{show(String(sheet.counts.faulty), form)}</span> cannot be read
            {single > 0 ? <span className="text-faint">, {counted(single, 'row')} decided by hand</span> : null}
          </>,
        )}
        {sheet.gone && sheet.gone.count > 0
          ? tab(
              'gone',
              'text-faint',
              <>
                <span className="figure">{show(String(sheet.gone.count), form)}</span> not in the file
              </>,
            )
          : null}
        <span className="ml-auto flex flex-wrap gap-0.5">
          {open
            ? tab(
                'moves',
                'text-accent',
                effect ? (
                  <>
                    <span className="figure">{show(String(effect.prices), form)}</span>{' '}
                    {effect.prices === 1 ? 'price' : 'prices'} on {counted(effect.lists.length, 'list')} would move
                  </>
                ) : (
                  'Which prices would move'
                ),
              )
            : null}
          {tab('match', 'text-accent', 'How the file is read')}
        </span>
      </div>
      {open ? <SheetIntake sheet={sheet.id} may={mayTake} /> : null}
      {open ? <Layout sheet={sheet} /> : null}
      {part === 'changes' ? (
        <SheetChanges sheet={sheet} show={kind} effect={effect} may={may} reading={reading} />
      ) : part === 'faults' ? (
        <SheetRows sheet={sheet} may={may} />
      ) : part === 'gone' && sheet.gone ? (
        <SheetGone gone={sheet.gone} supplier={sheet.supplierName} />
      ) : part === 'moves' ? (
        <SheetMoves effect={effect} trouble={effectError ? problemOf(effectError).message : null} />
      ) : (
        <SheetMatchForm
          key={sheet.version}
          sheet={sheet}
          editable={may && sheet.state === 'waiting'}
          onKept={() => setPart('changes')}
        />
      )}
      <TakeIn sheet={sheet} effect={effect} open={asking} onClose={() => setAsking(false)} />
    </>
  );
}
