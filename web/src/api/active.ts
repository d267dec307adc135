/**
 * Whether somebody sits here: a session in which nobody does ends after a time, however much an open page
 * asks by itself.
 */
import { there } from "./site";

const FRESH = 60_000;
const TELL = 120_000;

let used = Date.now();
for (const what of ["keydown", "pointerdown", "wheel"])
  addEventListener(what, () => (used = Date.now()), { passive: true, capture: true });

export function somebodyIsHere(): boolean {
  return Date.now() - used < FRESH;
}

// who reads for long asks for nothing: the server is told all the same
let told = Date.now();
setInterval(() => {
  if (used <= told) return;
  told = Date.now();
  void fetch(there("/api/session"), { headers: { "x-nundine-active": "1" } }).catch(() => undefined);
}, TELL);
