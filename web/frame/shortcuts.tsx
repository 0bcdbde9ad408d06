import { Dialog } from '../kit/controls.tsx';

const GRID: readonly [string, string][] = [
  ['Arrows, Page Up, Page Down, Home, End', 'move; with Ctrl to the edge, with Shift select'],
  ['Enter, F2, or just type', 'edit a cell; Enter keeps it and goes down, Tab goes right, Escape leaves it'],
  ['Ctrl C, Ctrl X, Ctrl V', 'copy, cut and paste blocks, also from and to a spreadsheet'],
  ['Ctrl D', 'fill the first row of the selection down'],
  ['Delete', 'empty the selected cells'],
  ['Ctrl Z, Ctrl Y', 'undo and redo'],
  ['Tab on the last cell of a row', 'leaves the grid'],
];

export function Shortcuts({
  open,
  onClose,
  places,
}: {
  open: boolean;
  onClose: () => void;
  places: readonly { title: string; key: string }[];
}) {
  return (
    <Dialog open={open} onClose={onClose} title="Keys">
      <table className="ruled w-full">
        <tbody>
          <tr>
            <td className="figure whitespace-nowrap">Ctrl K, /</td>
            <td>find anything</td>
          </tr>
          <tr>
            <td className="figure whitespace-nowrap">?</td>
            <td>this sheet</td>
          </tr>
          {places.map((p) => (
            <tr key={p.key}>
              <td className="figure whitespace-nowrap">Alt {p.key.toUpperCase()}</td>
              <td>{p.title}</td>
            </tr>
          ))}
          {GRID.map(([keys, what]) => (
            <tr key={keys}>
              <td className="figure">{keys}</td>
              <td>{what}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </Dialog>
  );
}
