/**
 * How somebody wants the screens to look: light or dark, how large. Kept in this browser at once, and with
 * the account.
 */
import { useSyncExternalStore } from "react";

import { applyTokens, type Theme } from "./tokens";
import { write, type Formats } from "./words";

export interface Look {
  theme: Theme | "system";
  /** Size of everything, in per cent. */
  size: number;
  decimals: Formats["decimals"];
  days: Formats["days"];
  weeks: Formats["weeks"];
}

export const SIZES = [90, 100, 115, 130, 150, 200];
const USUAL: Look = { theme: "light", size: 100, decimals: ".", days: "named", weeks: "iso" };
const KEPT = "look";
const DARK = "(prefers-color-scheme: dark)";

function read(): Look {
  try {
    return { ...USUAL, ...(JSON.parse(localStorage.getItem(KEPT) ?? "{}") as Partial<Look>) };
  } catch {
    return USUAL;
  }
}

let look = read();
const listeners = new Set<() => void>();

export function themeNow(of: Look = look): Theme {
  if (of.theme !== "system") return of.theme;
  return matchMedia(DARK).matches ? "dark" : "light";
}

/** Widths below which everything stands in one column: what a screen has room for once it is enlarged. */
const NARROW = 760;

function fit(): void {
  document.documentElement.classList.toggle("narrow", innerWidth / (look.size / 100) <= NARROW);
}
addEventListener("resize", fit);

export function isNarrow(): boolean {
  return document.documentElement.classList.contains("narrow");
}

/** Put the look on the page. */
export function wear(): void {
  applyTokens(themeNow());
  fit();
  document.documentElement.style.setProperty("--zoom", String(look.size / 100));
  write(look);
}

export function setLook(to: Partial<Look>): void {
  look = { ...look, ...to };
  localStorage.setItem(KEPT, JSON.stringify(look));
  wear();
  for (const tell of listeners) tell();
}

function listen(tell: () => void): () => void {
  const system = matchMedia(DARK);
  const changed = () => {
    wear();
    tell();
  };
  listeners.add(tell);
  system.addEventListener("change", changed);
  return () => {
    listeners.delete(tell);
    system.removeEventListener("change", changed);
  };
}

export function useLook(): Look {
  return useSyncExternalStore(listen, () => look);
}

/** Changes with the way in which figures, days and weeks are written: what shows them is then drawn anew. */
export function useFormats(): string {
  return useSyncExternalStore(listen, () => `${look.decimals} ${look.days} ${look.weeks}`);
}

export function useTheme(): Theme {
  return useSyncExternalStore(listen, () => themeNow());
}
