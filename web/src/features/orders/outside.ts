/** People of other firms in a cell, `Seilbau Ost x2 at 95; …`. */
export interface Outside {
  contract: string;
  people: string;
  rate: string;
}
export const NOBODY: Outside = { contract: "", people: "1", rate: "" };

export function outsideOf(cell: string): Outside[] {
  return cell
    .split(";")
    .map((part) => /^(.+?)(?:\s+x\s*(\d+))?(?:\s+at\s+(\d+(?:\.\d+)?))?$/.exec(part.trim()))
    .filter((found) => found !== null)
    .map(([, contract, people, rate]) => ({ contract: contract!, people: people ?? "1", rate: rate ?? "" }));
}

export function outsideCell(rows: Outside[]): string {
  return rows
    .filter((r) => r.contract.trim())
    .map((r) => {
      const rate = Number(r.rate) ? ` at ${Number(r.rate)}` : "";
      return `${r.contract.trim()} x${Number(r.people) || 1}${rate}`;
    })
    .join("; ");
}
