import { useState } from "react";

/**
 * Rows that are filled in for one cell of a form. What comes into the cell from elsewhere (a plan that was
 * taken, what another saved) comes into the rows; rows that say nothing yet stay, and change nothing.
 */
export function useCellRows<Row>(
  cell: string,
  rowsOf: (cell: string) => Row[],
  cellOf: (rows: Row[]) => string,
  change: (cell: string) => void,
) {
  const [rows, setRows] = useState(() => rowsOf(cell));
  const [written, setWritten] = useState(cell);
  if (written !== cell) {
    setWritten(cell);
    setRows(rowsOf(cell));
  }
  const write = (now: Row[]) => {
    const said = cellOf(now);
    setRows(now);
    if (said === cellOf(rowsOf(cell))) return;
    setWritten(said);
    change(said);
  };
  const put = (n: number, more: Partial<Row>) => write(rows.map((r, k) => (k === n ? { ...r, ...more } : r)));
  const take = (n: number) => write(rows.filter((_, k) => k !== n));
  return { rows, write, put, take };
}
