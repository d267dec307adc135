/** Assets that somebody planned work on lately, on this machine: they are offered before all others. */
const KEPT = "nundine-assets-used",
  MOST = 12;

function used(): string[] {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(KEPT) ?? "[]");
    return Array.isArray(kept) ? kept.filter((k) => typeof k === "string") : [];
  } catch {
    return [];
  }
}

export function noteUsed(asset: string): void {
  if (asset)
    localStorage.setItem(KEPT, JSON.stringify([asset, ...used().filter((k) => k !== asset)].slice(0, MOST)));
}

/** Options in their order, those that were used last before all others. */
export function usedFirst<T extends { value: string }>(options: T[]): T[] {
  const lately = used();
  const place = (o: T) => (lately.includes(o.value) ? lately.indexOf(o.value) : MOST);
  return [...options].sort((a, b) => place(a) - place(b));
}
