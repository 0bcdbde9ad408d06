import { useNumberForm } from '../frame/preferences.ts';
import { show, shorten } from './number-form.ts';

/**
 * A figure in the reader's form, padded so that decimal marks stand under each other; a falling or negative one
 * carries its sign. `places` is what the column shows, `pad` how many more places its neighbours show; digits beyond it are cut for showing and kept in the title.
 */
export function Figure({
  value,
  places,
  final = false,
  signed = false,
  pad = 0,
  className = '',
}: {
  value: string | null | undefined;
  places: number;
  final?: boolean;
  signed?: boolean;
  pad?: number;
  className?: string;
}) {
  const form = useNumberForm();
  if (value === null || value === undefined || value === '') return <span className="figure text-faint">–</span>;
  const short = shorten(value, places);
  const text = show(short, form, places);
  const plus = signed && !short.startsWith('-') && !/^0(\.0*)?$/.test(short) ? '+' : '';
  return (
    <span className={`figure whitespace-nowrap ${className}`} title={short === value ? undefined : show(value, form)}>
      <span className={final ? 'final-figure' : ''}>
        {plus}
        {text}
      </span>
      {pad > 0 ? (
        <span aria-hidden className="invisible">
          {'0'.repeat(pad)}
        </span>
      ) : null}
    </span>
  );
}

/** A change: sign, shape and colour all say which way it goes. */
export function Change({ value, places = 2, unit = '' }: { value: string | null; places?: number; unit?: string }) {
  const form = useNumberForm();
  if (value === null) return <span className="figure text-faint">–</span>;
  const down = value.startsWith('-');
  const none = /^-?0(\.0*)?$/.test(value);
  return (
    <span className={`figure whitespace-nowrap ${none ? 'text-faint' : down ? 'text-stop' : 'text-ink'}`}>
      {none ? '' : down ? '▼ ' : '▲ '}
      {none ? '' : down ? '' : '+'}
      {show(shorten(value, places), form, places)}
      {unit}
    </span>
  );
}
