/** Hours as people type them: `1.5`, `1,5`, `1:30`, `90m`, `1h30`, `2 h`; what can not be read is null. */
export const HOURS_WORDS = "write it like 1.5, 1:30 or 90m";

/** Hours as a decimal figure in text, `1.5`. */
export function hoursOf(typed: string): string | null {
  const text = typed.trim().toLowerCase().replace(",", ".");
  const minutes = /^(\d+(?:\.\d+)?)\s*m(?:in)?$/.exec(text);
  if (minutes) return figure(Number(minutes[1]) / 60);
  const parted = /^(\d+)\s*[:h]\s*([0-5]?\d)\s*m?$/.exec(text);
  if (parted) return figure(Number(parted[1]) + Number(parted[2]) / 60);
  const plain = /^(\d+(?:\.\d*)?|\.\d+)\s*h?$/.exec(text);
  return plain ? figure(Number(plain[1])) : null;
}

function figure(hours: number): string {
  return String(Math.round(hours * 10_000) / 10_000);
}
