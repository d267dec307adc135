/** Shortcuts: one list, shown by `?`, and switched off by those who do not want single letters. */
import { createContext, useContext, useEffect, useMemo, useRef, useState, type ReactNode } from "react";

export interface Shortcut {
  keys: string;
  what: string;
  run: () => void;
  group?: string;
}

interface Board {
  add: (list: Shortcut[]) => () => void;
  all: () => Shortcut[];
  letters: boolean;
  setLetters: (on: boolean) => void;
}

const Context = createContext<Board | null>(null);

function typed(event: KeyboardEvent): string {
  const name = event.key.length === 1 ? event.key.toLowerCase() : event.key;
  const shifted = event.shiftKey && (/^[a-z]$/i.test(event.key) || event.key.startsWith("Arrow"));
  return `${event.ctrlKey || event.metaKey ? "Ctrl+" : ""}${shifted ? "Shift+" : ""}${name}`;
}

const TYPED_IN = "textarea, select, input:not([type=checkbox], [type=radio]), [contenteditable=true]";
const WALKED_IN = "[role=menu], [role=listbox], .ant-select-dropdown, .ant-picker-dropdown";
const PRESSED = "button, a[href], summary, input, [role=button]";

/** Whether it is seen, and not on its way out. */
function isThere(element: Element): boolean {
  return (element.checkVisibility?.() ?? true) && !element.closest("[class*='-leave']");
}

/** Whether the key is meant for what has the focus: text is typed, a list walked in, a button pressed. */
function isForFocus(target: EventTarget | null, name: string): boolean {
  if (!(target instanceof HTMLElement)) return false;
  const list = target.closest(WALKED_IN);
  if (target.closest(TYPED_IN) || (list && isThere(list))) return !name.startsWith("Ctrl+");
  if (name === "Enter" || name === " ") return target.closest(PRESSED) !== null;
  return name.startsWith("Arrow") && target.closest("[type=radio]") !== null;
}

/** Whether a panel lies over the screen: its keys are its own, and nothing happens behind it. */
function isCovered(): boolean {
  return [...document.querySelectorAll("[role=dialog]")].some(isThere);
}

export function Keys({ children }: { children: ReactNode }) {
  const lists = useRef<Shortcut[][]>([]);
  const [letters, setLettersState] = useState(() => localStorage.getItem("letters") !== "off");
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      const name = typed(event);
      const offered = [...lists.current].reverse().flat();
      const plain = name.replace("Shift+Arrow", "Arrow");
      const found = offered.find((s) => s.keys === name) ?? offered.find((s) => s.keys === plain);
      if (!found || event.altKey || (name.length === 1 && !letters && name !== "?")) return;
      if (event.defaultPrevented || isCovered() || isForFocus(event.target, name)) return;
      event.preventDefault();
      found.run();
    };
    window.addEventListener("keydown", listen);
    return () => window.removeEventListener("keydown", listen);
  }, [letters]);
  const board = useMemo<Board>(
    () => ({
      add: (list) => {
        lists.current.push(list);
        return () => {
          lists.current = lists.current.filter((l) => l !== list);
        };
      },
      all: () => lists.current.flat(),
      letters,
      setLetters: (on) => {
        localStorage.setItem("letters", on ? "on" : "off");
        setLettersState(on);
      },
    }),
    [letters],
  );
  return <Context.Provider value={board}>{children}</Context.Provider>;
}

export function useBoard(): Board {
  const board = useContext(Context);
  if (!board) throw new Error("no Keys above");
  return board;
}

/** Offer shortcuts while the component is shown; the newest list wins. */
export function useShortcuts(list: Shortcut[]): void {
  const board = useBoard();
  const now = useRef(list);
  useEffect(() => {
    now.current = list;
  });
  const names = list.map((s) => `${s.keys}|${s.what}|${s.group ?? ""}`).join("\n");
  useEffect(() => {
    const shown = names
      .split("\n")
      .filter(Boolean)
      .map((line) => {
        const [keys, what, group] = line.split("|");
        return {
          keys,
          what,
          group,
          run: () => now.current.find((s) => s.keys === keys && s.what === what)?.run(),
        };
      });
    return board.add(shown);
  }, [board, names]);
}
