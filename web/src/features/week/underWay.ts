/**
 * Edits of ours that are being sent: their answers bring the week, so the news of them need not be asked
 * about once more.
 */
const sending = new Map<string, { count: number; told: number }>();

export function sendingBegins(week: string): void {
  const now = sending.get(week) ?? { count: 0, told: 0 };
  sending.set(week, { ...now, count: now.count + 1 });
}

/** Whether the answer of an edit of ours is still to come; remembers which edit the news was of. */
export function answerComes(week: string, edits: number): boolean {
  const now = sending.get(week);
  if (!now?.count) return false;
  now.told = Math.max(now.told, edits);
  return true;
}

/**
 * The last answer is there, with the week after `edits`. True when news came meanwhile of an edit that it
 * does not hold.
 */
export function sendingEnds(week: string, edits: number): boolean {
  const now = sending.get(week)!;
  now.count -= 1;
  if (now.count > 0) return false;
  sending.delete(week);
  return now.told > edits;
}
