/** A part that a task needs, as its cell says: `BE-1002 x2 from main; "rags" x3 may`. */
export interface PartWanted {
  /** A part's key; "" where it is told in words. */
  part: string;
  text: string;
  quantity: string;
  store: string;
  may: boolean;
}

const ONE = /^(?:"([^"]+)"|(.+?))(?: x([\d.]+))?(?: from (.+?))?( may)?$/;

export function partsOf(cell: string): PartWanted[] {
  return cell
    .split(";")
    .map((one) => ONE.exec(one.trim()))
    .filter((m) => m !== null)
    .map((m) => ({
      part: m[2] ?? "",
      text: m[1] ?? "",
      quantity: m[3] ?? "1",
      store: m[4] ?? "",
      may: m[5] !== undefined,
    }));
}

export const partsCell = (parts: PartWanted[]): string =>
  parts
    .map(
      (p) =>
        `${p.part || `"${p.text}"`} x${p.quantity || "1"}` +
        (p.store ? ` from ${p.store}` : "") +
        (p.may ? " may" : ""),
    )
    .join("; ");
