/** What somebody chooses in the palette, counted in this browser: the most used comes first. */
const KEPT = "used";
const MOST = 200;

function counts(): Record<string, number> {
  try {
    return JSON.parse(localStorage.getItem(KEPT) ?? "{}") as Record<string, number>;
  } catch {
    return {};
  }
}

export function used(name: string): void {
  const now = counts();
  now[name] = (now[name] ?? 0) + 1;
  const kept = Object.entries(now)
    .sort((a, b) => b[1] - a[1])
    .slice(0, MOST);
  localStorage.setItem(KEPT, JSON.stringify(Object.fromEntries(kept)));
}

export function mostUsed(a: { name: string }, b: { name: string }): number {
  const now = counts();
  return (now[b.name] ?? 0) - (now[a.name] ?? 0);
}
