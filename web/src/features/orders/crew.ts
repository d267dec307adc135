/**
 * Crew needs and the order of tasks, as the rows of a form; in files they are text: `mech x2 level 2 with
 * rope; elec`.
 */
export interface Need {
  craft: string;
  people: string;
  level: string;
  certificate: string;
}

export interface Before {
  task: string;
  /** Hours to wait, as typed; empty for none. */
  lag: string;
}

export const NO_NEED: Need = { craft: "", people: "1", level: "1", certificate: "" };

const NEED = /^(\S+?)(?:\s+x\s*(\d+))?(?:\s+level\s+([123]))?(?:\s+with\s+(\S+))?$/;

/** The rows of a cell; one empty row where nothing is needed yet. */
export function needsOf(cell: string): Need[] {
  const rows = parts(cell).flatMap((part) => {
    const found = NEED.exec(part);
    if (!found) return [];
    const [, craft = "", people = "1", level = "1", certificate = ""] = found;
    return [{ craft, people, level, certificate }];
  });
  return rows.length ? rows : [NO_NEED];
}

/** The cell of rows; those without a craft are left out. */
export function needsCell(rows: Need[]): string {
  return rows
    .filter((r) => r.craft)
    .map(
      (r) =>
        `${r.craft} x${r.people || "1"} level ${r.level}` + (r.certificate ? ` with ${r.certificate}` : ""),
    )
    .join("; ");
}

export function beforeOf(cell: string): Before[] {
  return parts(cell).map((part) => {
    const [task = "", lag = ""] = part.split("+");
    return { task: task.trim(), lag: lag.trim() };
  });
}

export function beforeCell(rows: Before[]): string {
  return rows.map((r) => (r.lag && Number(r.lag) ? `${r.task}+${r.lag}` : r.task)).join("; ");
}

function parts(cell: string): string[] {
  return cell
    .split(";")
    .map((p) => p.trim())
    .filter(Boolean);
}
